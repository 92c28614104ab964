import { CapturedPage } from '../core/page/captured-page.ts';
import type { Capture } from '../core/measure/exchange.ts';
import {
  linksOf,
  nextAssets,
  nextPages,
  type Neighbour,
  type NextAsset,
  type NextPages,
} from '../core/next/next-assets.ts';
import {
  bodiesOf,
  bodyOf,
  capturedNeighbours,
  findCapture,
  type CapturedNeighbour,
} from '../store/captures.ts';
import type { Queries } from '../store/database.ts';
import type { PageAssets } from '../core/page/page-assets.ts';

/** A page whose HTML was read. */
interface ReadPage {
  readonly assets: PageAssets;
}

/** More pages than these nobody asks for ahead: those that are linked to first count. */
const MOST_NEIGHBOURS = 8;

const NOTHING: readonly NextAsset[] = [];

/** What was read last for a page, and of which captures. */
const readLast = new WeakMap<ReadPage, { of: string; assets: Promise<readonly NextAsset[]> }>();

/** The captured pages of its site that a page links to, in the order of its links. */
export async function linkedNeighbours(
  queries: Queries,
  pageId: number,
  page: ReadPage,
): Promise<CapturedNeighbour[]> {
  const { captured } = page.assets;
  if (!captured.hasDocument) return [];
  const all = await capturedNeighbours(queries, pageId);
  if (all.length === 0) return [];
  const bare = (url: string) => url.replace(/#.*$/, '');
  return linksOf(captured).flatMap((url) => all.find((one) => bare(one.url) === url) ?? []);
}

/** What the pages that a page links to need, and it does not; nothing where none of them was captured. */
export async function nextAssetsOf(
  queries: Queries,
  pageId: number,
  page: ReadPage,
): Promise<readonly NextAsset[]> {
  const linked = await nearestNeighbours(queries, pageId, page);
  if (linked.length === 0) return NOTHING;
  const of = JSON.stringify(linked);
  const known = readLast.get(page);
  if (known?.of === of) return known.assets;
  // Their HTML alone says what they need.
  const assets = neighboursOf(queries, linked, documentOf).then((all) =>
    nextAssets(page.assets.captured, all),
  );
  readLast.set(page, { of, assets });
  assets.catch(() => readLast.delete(page));
  return assets;
}

/** The same with the bytes that answer. */
export async function nextPagesOf(queries: Queries, pageId: number, page: ReadPage): Promise<NextPages> {
  const linked = await nearestNeighbours(queries, pageId, page);
  const neighbours = await neighboursOf(queries, linked, (_capture, id) => bodiesOf(queries, id));
  return nextPages(page.assets.captured, neighbours);
}

async function nearestNeighbours(queries: Queries, pageId: number, page: ReadPage) {
  return (await linkedNeighbours(queries, pageId, page)).slice(0, MOST_NEIGHBOURS);
}

type BodiesOf = (
  capture: Capture,
  captureId: number,
  queries: Queries,
) => Promise<ReadonlyMap<string, Uint8Array>>;

const documentOf: BodiesOf = async (capture, _id, queries) => {
  const hash = new CapturedPage(capture, new Map()).exchange(capture.documentUrl)?.bodyHash;
  const html = hash ? await bodyOf(queries, hash) : null;
  return new Map(hash && html ? [[hash, html]] : []);
};

async function neighboursOf(
  queries: Queries,
  linked: readonly CapturedNeighbour[],
  bodies: BodiesOf,
): Promise<Neighbour[]> {
  const found = await Promise.all(
    linked.map(async ({ name, captureId, signedIn }): Promise<Neighbour[]> => {
      const stored = await findCapture(queries, captureId);
      const page =
        stored && new CapturedPage(stored.capture, await bodies(stored.capture, captureId, queries));
      return page?.hasDocument ? [{ name, page, signedIn }] : [];
    }),
  );
  return found.flat();
}
