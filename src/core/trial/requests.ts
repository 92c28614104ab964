/** A request as far as it matters whether the other arm makes it too. */
export interface AskedRequest {
  method: string;
  url: string;
  /** Why it failed, or its status from 400 on; null where it was answered. */
  failed: string | null;
}

/** A page that goes on, or that changes its mind, breaks off requests: nothing is wrong with that. */
const BROKEN_OFF = 'net::ERR_ABORTED';

/**
 * Requests that fail in the treated arm and not in the other: a file that is refused, blocked or not found.
 *
 * @param asIs loads of the arm as is, each with all its requests
 */
export function failedOnlyTreated(
  asIs: readonly (readonly AskedRequest[])[],
  treated: readonly (readonly AskedRequest[])[],
): string[] {
  const failing = (loads: typeof asIs) =>
    new Map(
      loads
        .flat()
        .flatMap((one) =>
          one.failed && one.failed !== BROKEN_OFF ? [[placeOf(one), one.url] as const] : [],
        ),
    );
  const before = failing(asIs);
  return [...failing(treated)].flatMap(([place, url]) => (before.has(place) ? [] : [url]));
}

/**
 * Requests that every as-is load makes, more often than any treated one does, though no rule takes them out. They
 * are counted by method, host and path: a query may hold a time or a number.
 *
 * @param takenOut addresses that rules take out, with what those made the page ask for
 */
export function missingTreated(
  asIs: readonly (readonly AskedRequest[])[],
  treated: readonly (readonly AskedRequest[])[],
  takenOut: readonly string[],
): string[] {
  const gone = new Set(takenOut.map((url) => placeOf({ method: 'GET', url })));
  const counts = (loads: typeof asIs) => loads.map(countOf);
  const [before, after] = [counts(asIs), counts(treated)];
  const urls = new Map(asIs.flat().map((one) => [placeOf(one), one.url]));
  return [...urls].flatMap(([place, url]) => {
    const least = Math.min(...before.map((load) => load.get(place) ?? 0));
    const most = Math.max(0, ...after.map((load) => load.get(place) ?? 0));
    return most < least && !gone.has(place) ? [url] : [];
  });
}

/**
 * What every treated load asks for twice and no as-is one does: what was asked for ahead did not match what the page asks
 * for. What a page asks for again and again by itself is none: one that is there sooner asks more often.
 */
export function doubledTreated(
  asIs: readonly (readonly AskedRequest[])[],
  treated: readonly (readonly AskedRequest[])[],
): string[] {
  const times = (load: readonly AskedRequest[], url: string) =>
    load.filter((one) => one.method === 'GET' && one.url === url).length;
  return [...new Set(asIs.flat().map(({ url }) => url))].filter((url) => {
    const once = asIs.every((load) => times(load, url) <= 1);
    return once && treated.length > 0 && treated.every((load) => times(load, url) === 2);
  });
}

function countOf(load: readonly AskedRequest[]): Map<string, number> {
  const counts = new Map<string, number>();
  for (const one of load) counts.set(placeOf(one), (counts.get(placeOf(one)) ?? 0) + 1);
  return counts;
}

function placeOf({ method, url }: Pick<AskedRequest, 'method' | 'url'>): string {
  return `${method} ${url.replace(/[?#].*$/, '')}`;
}
