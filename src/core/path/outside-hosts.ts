import { connectionsTo, type Sort } from '../hints/connections.ts';
import { hintedPage, ownHints } from '../hints/own-hints.ts';
import type { AssetKind } from '../measure/discovery.ts';
import type { RequestTiming } from '../measure/run.ts';
import type { PageAssets } from '../page/page-assets.ts';
import { ownerOf } from './party.ts';

/** A host besides the page's own that it asks for something. */
export interface OutsideHost {
  origin: string;
  /** Its registrable domain. */
  owner: string;
  /** What is asked there, each kind once, the first asked first. */
  kinds: AssetKind[];
  requests: number;
  wireBytes: number;
  /** When it is asked first, ms. */
  firstMs: number;
  /** How long its connections took to be made, each, ms; none where one was there. */
  connectMs: number[];
  /** With which credentials it is asked: connections of one sort are of no use to the other. */
  sorts: Sort[];
  /** Whether something of it began before the paint. */
  beforePaint: boolean;
  /** What the page's own tags do ahead of it. */
  hinted: ('preconnect' | 'dns-prefetch')[];
}

/**
 * The hosts that a page asks besides its own, those asked before the paint first, then by when they are asked.
 *
 * @param requests of a run under conditions
 * @param paintMs null where it never painted
 */
export function outsideHosts(
  page: PageAssets,
  requests: readonly RequestTiming[],
  paintMs: number | null,
): OutsideHost[] {
  const hinted = page.captured.hasDocument ? hintedPage(page) : null;
  const own = new URL(page.documentUrl).origin;
  const byOrigin = new Map<string, RequestTiming[]>();
  for (const request of requests) {
    if (!/^https?:/i.test(request.url)) continue;
    const { origin } = new URL(request.url);
    if (origin !== own) byOrigin.set(origin, [...(byOrigin.get(origin) ?? []), request]);
  }
  const found = [...byOrigin].map(([origin, asked]): OutsideHost => {
    const inOrder = asked.toSorted((a, b) => a.startMs - b.startMs);
    const firstMs = inOrder[0]!.startMs;
    return {
      origin,
      owner: ownerOf(origin),
      kinds: [...new Set(inOrder.map((one) => one.kind))],
      requests: asked.length,
      wireBytes: asked.reduce((sum, one) => sum + one.wireBytes, 0),
      firstMs,
      connectMs: inOrder.flatMap(({ connectMs }) => (connectMs ? [connectMs.end - connectMs.start] : [])),
      sorts: hinted ? connectionsTo(hinted, origin) : [],
      beforePaint: paintMs !== null && firstMs < paintMs,
      hinted: hinted
        ? [...new Set(ownHints(hinted).flatMap((one) => (one.origin === origin ? [one.rel] : [])))]
        : [],
    };
  });
  return found.sort((a, b) => Number(b.beforePaint) - Number(a.beforePaint) || a.firstMs - b.firstMs);
}
