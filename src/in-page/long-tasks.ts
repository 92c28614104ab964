let seen: number[] = [];

/** Begins to note how long the main thread is held up at a time (Long Tasks, "longtask": from 50 ms on). */
export function watchLongTasks(): void {
  seen = [];
  new PerformanceObserver((list) => {
    for (const { duration } of list.getEntries()) seen.push(duration);
  }).observe({ type: 'longtask', buffered: false });
}

/** How long it was since then, each ms. */
export function longTasksSeen(): number[] {
  return seen;
}
