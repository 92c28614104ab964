import { CapturedPage } from '../core/page/captured-page.ts';
import { linksOf, nextPages, type Neighbour, type NextPages } from '../core/next/next-assets.ts';
import { bodiesOf, capturedNeighbours, findCapture, type CapturedNeighbour } from '../store/captures.ts';
import type { Queries } from '../store/database.ts';
import type { PageAssets } from '../core/page/page-assets.ts';

/** A page whose HTML was read. */
interface ReadPage {
  readonly assets: PageAssets;
}

/** More pages than these nobody asks for ahead: those that are linked to first count. */
const MOST_NEIGHBOURS = 8;

const NOTHING: NextPages = { assets: [], answers: [] };

/** What was read last for a page, and of which captures. */
const readLast = new WeakMap<ReadPage, { of: string; next: Promise<NextPages> }>();

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

/** What can be asked for ahead of the pages that a page links to; nothing where none of them was captured. */
export async function nextPagesOf(queries: Queries, pageId: number, page: ReadPage): Promise<NextPages> {
  const linked = (await linkedNeighbours(queries, pageId, page)).slice(0, MOST_NEIGHBOURS);
  if (linked.length === 0) return NOTHING;
  const of = JSON.stringify(linked);
  const known = readLast.get(page);
  if (known?.of === of) return known.next;
  const next = read(queries, page, linked);
  readLast.set(page, { of, next });
  next.catch(() => readLast.delete(page));
  return next;
}

async function read(
  queries: Queries,
  page: ReadPage,
  linked: readonly CapturedNeighbour[],
): Promise<NextPages> {
  const neighbours: Neighbour[] = [];
  for (const { name, captureId, signedIn } of linked) {
    const [stored, bodies] = await Promise.all([
      findCapture(queries, captureId),
      bodiesOf(queries, captureId),
    ]);
    const captured = stored && new CapturedPage(stored.capture, bodies);
    if (captured?.hasDocument) neighbours.push({ name, page: captured, signedIn });
  }
  return nextPages(page.assets.captured, neighbours);
}
