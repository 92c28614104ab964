import type { FindingInput, FoundFact } from './finding.ts';

/** A click that is answered more than nine frames later (60 a second) does not look like its cause any more. */
const LONG_WAIT_MS = 150;
const MOST_WAITS = 3;
const LARGE_BACKGROUND = 50_000;
/** What the compositor moves by itself, without style, layout and paint for each frame. */
const CHEAP_TO_MOVE = new Set([
  'transform',
  'translate',
  'rotate',
  'scale',
  'opacity',
  'filter',
  'backdrop-filter',
]);

/**
 * Clicks that would wait long: the page is on screen, and a task keeps its main thread from answering. A click
 * at a task's beginning waits for all of it.
 */
export function waitingClicks({ map, longTasks }: FindingInput): FoundFact[] {
  const shownMs = map.headlineMs;
  if (shownMs === null) return [];
  return longTasks
    .filter((task) => task.endMs > shownMs)
    .map((task) => ({ ...task, startMs: Math.max(task.startMs, shownMs) }))
    .filter((task) => task.endMs - task.startMs >= LONG_WAIT_MS)
    .sort((a, b) => b.endMs - b.startMs - (a.endMs - a.startMs))
    .slice(0, MOST_WAITS)
    .map(({ startMs, endMs, script }): FoundFact => ({
      id: `click ${Math.round(startMs)}`,
      line: 'main thread',
      facts: { code: 'click', atMs: startMs, waitsMs: endMs - startMs, script },
      urls: script ? [script] : [],
      costMs: null,
    }));
}

/** Pictures behind elements above the fold: found only when their stylesheet is read, and heavy. */
export function heavyBackgrounds({ capture }: FindingInput): FoundFact[] {
  return capture.observations.backgrounds.flatMap(({ element, url }): FoundFact[] => {
    const size = capture.exchanges.find((one) => one.url === url)?.wireBytes ?? 0;
    if (size < LARGE_BACKGROUND) return [];
    return [
      {
        id: `background ${url}`,
        line: 'bytes',
        facts: { code: 'background', url, bytes: size, element },
        urls: [url],
        costMs: null,
      },
    ];
  });
}

/** Animation above the fold that never ends, and that has to be laid out or painted for every frame. */
export function heavyAnimations({ capture }: FindingInput): FoundFact[] {
  return capture.observations.animations.flatMap(({ element, name, properties, endless }): FoundFact[] => {
    const heavy = properties.filter((property) => !CHEAP_TO_MOVE.has(property));
    if (!endless || heavy.length === 0) return [];
    return [
      {
        id: `animation ${element} ${name}`,
        line: 'main thread',
        facts: { code: 'animation', element, name, properties: heavy },
        urls: [],
        costMs: null,
      },
    ];
  });
}

/** What is asked for only where somebody is signed in: visitors never pay for it. */
export function staffOnly({ map, visitor }: FindingInput): FoundFact[] {
  if (!visitor) return [];
  if (visitor.urls === null)
    return [
      {
        id: 'staff unknown',
        line: 'after the paint',
        facts: { code: 'staff unknown' },
        urls: [],
        costMs: null,
      },
    ];
  const seen = visitor.urls;
  const own = map.assets.filter((asset) => asset.kind !== 'document' && !seen.has(asset.url));
  if (own.length === 0) return [];
  const size = own.reduce((sum, one) => sum + one.wireBytes, 0);
  const holding = own.some((one) => one.hold === 'holds');
  const urls = own.map((one) => one.url);
  return [
    {
      id: 'staff',
      line: holding ? 'waiting' : 'after the paint',
      facts: { code: 'staff', urls, bytes: size },
      urls,
      costMs: null,
    },
  ];
}
