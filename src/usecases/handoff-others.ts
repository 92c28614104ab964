import { filesApart, type Delivered } from '../core/next/two-plans.ts';
import { twoVersionsSentence, type FileApart, type TwoVersions } from '../core/words/two-versions.ts';
import type { Queries } from '../store/database.ts';
import { pagesTried } from '../store/proofs.ts';
import { treatedNow } from './stored-page.ts';

/** Reading a page takes a second. */
const MOST_READ = 8;

/**
 * What to know before a page's files are put in beside those of other pages: the files that this page's plan and
 * that of another page of the site, which was tried, do not leave at one, told in sentences. The most important pages are looked
 * at.
 */
export async function handoffOthers(
  queries: Queries,
  pageId: number,
  conditionsId: string,
): Promise<{ sentences: string[] } | null> {
  const own = await deliveredOf(queries, pageId, conditionsId);
  if (!own) return null;
  const others = (await pagesTried(queries, pageId, conditionsId)).slice(0, MOST_READ);
  const byFile = new Map<string, { url: string; apart: FileApart; pages: string[] }>();
  for (const { id, name } of others) {
    const other = await deliveredOf(queries, id, conditionsId);
    for (const { url, apart } of other ? filesApart(own, other) : []) {
      const key = `${apart} ${url}`;
      byFile.set(key, { url, apart, pages: [...(byFile.get(key)?.pages ?? []), name] });
    }
  }
  const alike = new Map<string, TwoVersions>();
  for (const { url, apart, pages } of byFile.values()) {
    const key = JSON.stringify([apart, pages]);
    alike.set(key, { apart, pages, urls: [...(alike.get(key)?.urls ?? []), url] });
  }
  return { sentences: [...alike.values()].map(twoVersionsSentence) };
}

async function deliveredOf(
  queries: Queries,
  pageId: number,
  conditionsId: string,
): Promise<Delivered | null> {
  const known = await treatedNow(queries, pageId, conditionsId);
  return (
    known && {
      files: known.treated.files,
      loads: new Set(known.page.capture.exchanges.map(({ url }) => url)),
    }
  );
}
