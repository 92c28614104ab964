import type { SeenAnswer } from '../core/trial/tap-answers.ts';
import { shortName } from './names.ts';

/** Part of what browsers tell of long frames (Long Animation Frames). */
interface LongFrame extends PerformanceEntry {
  scripts?: readonly { sourceURL: string; duration: number }[];
}

/** Shorter waits are told by no browser, ms. */
const LEAST_TOLD_MS = 16;

let tappedAt: number | null = null;
let watched = true;
/** When each sort of change was first seen since it is no longer watched. */
let changes = new Map<string, number>();
let restless = new Set<string>();
let waits: PerformanceEntry[] = [];
let frames: LongFrame[] = [];

/** Begins to note what the page changes by itself, and listens for the tap that comes. */
export function watchAnswers(): void {
  [tappedAt, watched, changes, restless, waits, frames] = [null, true, new Map(), new Set(), [], []];
  new MutationObserver((records) => {
    const now = performance.now();
    for (const sort of records.flatMap(sortsOf)) {
      if (watched) restless.add(sort);
      else if (!restless.has(sort) && !changes.has(sort)) changes.set(sort, now);
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

/** Ends that: what changes from now on comes of the tap, also where a listener of the page hears of it before ours. */
export function aboutToTap(): void {
  watched = false;
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
    changes: [...changes].map(([sort, atMs]) => [sort, Math.max(0, atMs - since)]),
    script: scripts[0]?.sourceURL ?? null,
  };
}

/** What a page asks for or declares, which nobody sees. */
const UNSEEN = 'script, link, style, meta, head, title, noscript, template';

/** A change as that of a sort: "nav.menu class", "body less div.banner". */
function sortsOf({ target, type, attributeName, addedNodes, removedNodes }: MutationRecord): string[] {
  const element = target instanceof Element ? target : target.parentElement;
  if (!element || element.matches(UNSEEN)) return [];
  const name = shortName(element);
  if (type === 'attributes') return [`${name} ${attributeName}`];
  if (type === 'characterData') return [`${name} text`];
  const named = (nodes: NodeList, how: string) =>
    [...nodes].flatMap((node) => {
      if (node instanceof Element) return node.matches(UNSEEN) ? [] : [`${name} ${how} ${shortName(node)}`];
      return node instanceof Text && node.data.trim() ? [`${name} text`] : [];
    });
  return [...named(addedNodes, 'with'), ...named(removedNodes, 'less')];
}
