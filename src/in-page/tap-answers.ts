import type { SeenAnswer } from '../core/trial/tap-answers.ts';
import { shortName } from './names.ts';

/** Part of what browsers tell of long frames (Long Animation Frames). */
interface LongFrame extends PerformanceEntry {
  scripts?: readonly { sourceURL: string; duration: number }[];
}

/** Shorter waits are told by no browser, ms. */
const LEAST_TOLD_MS = 16;

let tappedAt: number | null = null;
let changes = new Map<string, number>();
let restless = new Set<string>();
let waits: PerformanceEntry[] = [];
let frames: LongFrame[] = [];

/** Begins to note what the page changes by itself, and listens for the tap that comes. */
export function watchAnswers(): void {
  [tappedAt, changes, restless, waits, frames] = [null, new Map(), new Set(), [], []];
  new MutationObserver((records) => {
    const now = performance.now();
    for (const name of records.map(({ target }) => sortOf(target))) {
      if (tappedAt === null) restless.add(name);
      else if (!restless.has(name) && !changes.has(name)) changes.set(name, Math.max(0, now - tappedAt));
    }
  }).observe(document, { subtree: true, childList: true, attributes: true, characterData: true });
  addEventListener('pointerdown', ({ timeStamp }) => (tappedAt ??= timeStamp), {
    capture: true,
    passive: true,
  });
  const keep = (type: string, into: PerformanceEntry[], options = {}) =>
    new PerformanceObserver((list) => into.push(...list.getEntries())).observe({ type, ...options });
  keep('event', waits, { durationThreshold: LEAST_TOLD_MS });
  keep('long-animation-frame', frames);
}

/** What came of the tap; null where none reached the page. */
export function answerSeen(): SeenAnswer | null {
  if (tappedAt === null) return null;
  const since = tappedAt;
  const after = waits.filter(({ startTime }) => startTime >= since);
  const delayMs = Math.max(LEAST_TOLD_MS, ...after.map(({ duration }) => duration));
  const scripts = frames
    .filter(({ startTime, duration }) => startTime + duration > since && startTime < since + delayMs)
    .flatMap((frame) => frame.scripts ?? [])
    .filter(({ sourceURL }) => sourceURL)
    .sort((one, other) => other.duration - one.duration);
  return {
    delayMs,
    changes: [...changes],
    script: scripts[0]?.sourceURL ?? null,
  };
}

function sortOf(node: Node): string {
  const element = node instanceof Element ? node : node.parentElement;
  return element ? shortName(element) : '';
}
