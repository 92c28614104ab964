import type { AssetKind } from './discovery.ts';

/** What may be a poll; pictures and sheets change the page, however regularly they come. */
const MAY_POLL: ReadonlySet<AssetKind> = new Set(['data', 'beacon', 'preflight']);
/** Distances between requests are regular when they differ by no more than this share, and a little of the timers'. */
const REGULAR = { share: 0.2, ms: 60 } as const;

/**
 * Tells which requests of a page are polls: after load, one that comes for the third time at a regular distance is no
 * sign that the page is still at work. Its address is taken without its query, which may hold a time or a number.
 */
export class PollWatch {
  #loaded = false;
  #times = new Map<string, number[]>();

  /** From now on requests may be polls: the page has loaded. */
  hasLoaded(): void {
    this.#loaded = true;
  }

  /** Notes a request. @returns whether it is a poll */
  isPoll({ kind, method, url }: { kind: AssetKind; method: string; url: string }, atMs: number): boolean {
    if (!this.#loaded || !MAY_POLL.has(kind)) return false;
    const key = `${kind} ${method} ${url.replace(/[?#].*$/, '')}`;
    const times = [...(this.#times.get(key) ?? []), atMs].slice(-3);
    this.#times.set(key, times);
    const [first, second, third] = times;
    if (first === undefined || second === undefined || third === undefined) return false;
    const [one, other] = [second - first, third - second];
    return Math.abs(one - other) <= Math.max(one, other) * REGULAR.share + REGULAR.ms;
  }
}
