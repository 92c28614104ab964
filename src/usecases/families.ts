import { guessFamilies, type FamilyHint } from '../core/measure/families.ts';
import { CapturedPage } from '../core/page/captured-page.ts';
import { bodiesOf, latestCapture } from '../store/captures.ts';
import type { Queries } from '../store/database.ts';
import { listPages } from '../store/sites.ts';

/** More than this many captured pages are told apart by their addresses alone: reading them all takes long. */
const MOST_READ = 100;

/** Families of all pages as they are guessed: from addresses, and from the structure of captured pages. */
export async function guessedFamilies(queries: Queries): Promise<Map<number, string>> {
  const pages = await listPages(queries);
  const hints: FamilyHint[] = [];
  for (const [index, page] of pages.entries()) {
    hints.push({
      id: page.id,
      url: page.url,
      skeleton: index < MOST_READ ? await skeletonOf(queries, page.id) : null,
    });
  }
  return guessFamilies(hints);
}

/** Names of the elements that a page's assets stand in: its template, less its text. */
async function skeletonOf(queries: Queries, pageId: number): Promise<Set<string> | null> {
  const stored = await latestCapture(queries, pageId);
  if (!stored) return null;
  const page = new CapturedPage(stored.capture, await bodiesOf(queries, stored.id));
  if (!page.hasDocument) return null;
  const { elements } = page.document;
  return new Set(
    elements.map((element) =>
      [
        element.tag,
        element.attributes['class']?.trim().split(/\s+/)[0] ?? '',
        element.attributes['rel'] ?? '',
        element.tag === 'img' ? '' : (element.attributes['src'] ?? element.attributes['href'] ?? ''),
      ].join('.'),
    ),
  );
}
