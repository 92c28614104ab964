import { findConditions } from '../src/core/measure/conditions.ts';
import type { RequestTiming } from '../src/core/measure/run.ts';
import { readSeed } from '../src/demo/seed-file.ts';
import type { Database } from '../src/store/database.ts';
import { ensurePage } from '../src/store/sites.ts';
import { keepMeasurement } from '../src/usecases/keep.ts';

/** Requests of the large page. */
export const LARGE = 300;

/** Stores the demo's capture with its requests repeated under other names until there are enough. @returns its page's number */
export async function storeLargePage(database: Database): Promise<number> {
  const { measure, url } = readSeed();
  const { measurement } = measure;
  const runs = measurement.runs.map((run) => ({ ...run, requests: repeated(run.requests) }));
  const page = await ensurePage(database, url, 'Large');
  await keepMeasurement(database, page.id, findConditions('slow-phone')!, {
    ...measure,
    measurement: { ...measurement, runs },
  });
  return page.id;
}

function repeated(requests: readonly RequestTiming[]): RequestTiming[] {
  const others = requests.filter((one) => one.kind !== 'document');
  const more = Array.from({ length: LARGE - requests.length }, (_one, index): RequestTiming => {
    const from = others[index % others.length]!;
    const by = (index % 97) * 31;
    const later = (at: number | null) => at && at + by;
    return {
      ...from,
      id: `${from.id}-${index}`,
      url: `${from.url}${from.url.includes('?') ? '&' : '?'}again=${index}`,
      blocking: 'non-blocking',
      startMs: from.startMs + by,
      connectMs: null,
      sentMs: later(from.sentMs),
      firstByteMs: later(from.firstByteMs),
      endMs: later(from.endMs),
    };
  });
  return [...requests, ...more];
}
