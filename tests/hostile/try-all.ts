import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Draw } from './chance.ts';
import { isPlain, readHostileDecisions, readHostileHar, readHostilePlan, readHostileText } from './files.ts';
import { readHostilePage } from './pages.ts';
import { allRoutes, askHostile } from './routes.ts';

/** How many hostile inputs of each kind are tried. */
export type Counts = Record<'pages' | 'har' | 'plans' | 'decisions' | 'texts' | 'requests', number>;

/** What became of the inputs of one kind. */
export interface Tried {
  kind: keyof Counts;
  count: number;
  /** Told to be wrong, in a sentence. */
  refused: number;
  longestMs: number;
  /** Each with the seed by which it can be had again. */
  broke: string[];
}

/** No reading of one input may take longer, ms: it is given up then by whoever waits for it. */
export const LIMIT_MS = 30_000;

/**
 * Tries hostile inputs: what somebody means harm with, or has written wrongly. Each is either taken or refused in a
 * sentence. Requests go to the routes of the application, whose data folder has to hold the demo.
 */
export async function tryHostile(counts: Counts, seed: number): Promise<Tried[]> {
  const folder = mkdtempSync(join(tmpdir(), 'wistrel-hostile-'));
  const routes = await allRoutes();
  const ask = async (draw: Draw) => {
    const { asked, status, said } = await askHostile(routes, draw);
    if (status >= 500) throw new TypeError(`${status} ${said} for ${asked}`);
    if (status >= 400) throw new Error(`It was refused (${status}).`);
  };
  const kinds: Record<keyof Counts, (draw: Draw) => void | Promise<void>> = {
    pages: readHostilePage,
    har: (draw) => readHostileHar(draw, folder),
    plans: readHostilePlan,
    decisions: readHostileDecisions,
    texts: readHostileText,
    requests: ask,
  };
  try {
    const all: Tried[] = [];
    for (const [kind, act] of Object.entries(kinds) as [keyof Counts, (typeof kinds)['pages']][])
      all.push(await tryKind(kind, act, counts[kind], seed));
    return all;
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

async function tryKind(
  kind: keyof Counts,
  act: (draw: Draw) => void | Promise<void>,
  count: number,
  seed: number,
): Promise<Tried> {
  const tried: Tried = { kind, count, refused: 0, longestMs: 0, broke: [] };
  for (let one = seed; one < seed + count; one++) {
    const began = performance.now();
    try {
      await act(new Draw(one));
    } catch (error) {
      if (isPlain(error)) tried.refused++;
      else tried.broke.push(`seed ${one}: ${error instanceof Error ? error.stack : String(error)}`);
    }
    const tookMs = performance.now() - began;
    if (tookMs > LIMIT_MS) tried.broke.push(`seed ${one}: it took ${Math.round(tookMs / 1000)} s`);
    tried.longestMs = Math.max(tried.longestMs, tookMs);
  }
  return tried;
}
