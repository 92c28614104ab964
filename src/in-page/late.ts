let watching: PerformanceObserver | null = null;
let shifted = 0;

const add = (entries: readonly PerformanceEntry[]) => {
  for (const entry of entries) shifted += (entry as unknown as { value: number }).value;
};

/** Watches for layout shifts, and says what came since it was last asked (Layout Instability, section 3). */
export function shiftsSince(start: boolean): number {
  if (start) {
    shifted = 0;
    watching = new PerformanceObserver((list) => add(list.getEntries()));
    watching.observe({ type: 'layout-shift', buffered: false });
    return 0;
  }
  add(watching?.takeRecords() ?? []);
  return shifted;
}

/** Lets the late stylesheets apply, all at once, and waits until what they did is drawn. */
export async function lateSheetsArrive(): Promise<void> {
  for (const link of document.querySelectorAll<HTMLLinkElement>('link[data-late]'))
    link.media = link.dataset['late'] || 'all';
  await document.fonts.ready;
  for (let i = 0; i < 3; i++) await new Promise((resolve) => requestAnimationFrame(resolve));
}
