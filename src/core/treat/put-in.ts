import type { Change, TreatedFile } from './compose.ts';
import { linkHeaderOf } from './link-header.ts';
import { bytesOfFile } from './new-files.ts';
import { checksum, type PlanRule } from './plan.ts';

/** A file of the site, and what is done to it. */
export interface FileToPutIn {
  /** Its path; the whole address where it is another host's. */
  name: string;
  what: 'new' | 'changed' | 'page';
  /** Of the file as treated, uncompressed. */
  bytes: number;
  /** None for a new file: all of it is put in. */
  changes: ChangeToPutIn[];
  /** Stays the same as long as what is put in does. */
  key: string;
}

/** A change with why it is made and how it is taken back. */
export interface ChangeToPutIn extends Change {
  key: string;
  reason: string;
  wayBack: string;
  /** A header of the page's answer that says the same; null where none does. */
  header: string | null;
}

/** What the list is made from. */
export interface TreatedPage {
  url: string;
  /** Against which its addresses are read. */
  baseUrl: string;
  bytes: number;
  files: readonly TreatedFile[];
  changes: readonly Change[];
}

/**
 * What is put into a site, by file, in an order in which nothing breaks on the way: first new files, which nothing asks
 * for yet, then files that change, and the page last, from its top down.
 *
 * @example
 * putIn({ url: 'https://quay.test/', baseUrl: 'https://quay.test/', bytes: 900, files: [], changes }, plan.rules)[0]!.name; // "/"
 */
export function putIn(page: TreatedPage, rules: readonly PlanRule[]): FileToPutIn[] {
  const ruleOf = (id: string) => rules.find((rule) => rule.id === id);
  const urls = { pageUrl: page.url, baseUrl: page.baseUrl };
  const seen = new Map<string, number>();
  /** A sheet may hold the same list of families many times: each is put in by itself. */
  const keyOfNext = (text: string) => {
    const count = (seen.get(text) ?? 0) + 1;
    seen.set(text, count);
    return keyOf(text, String(count));
  };
  const toPutIn = (change: Change): ChangeToPutIn => ({
    ...change,
    key: keyOfNext([change.where, change.before, change.after].join('\n')),
    reason: ruleOf(change.ruleId)?.reason ?? '',
    wayBack: wayBackOf(change),
    header: headerOf(change, ruleOf(change.ruleId)),
  });
  const headerOf = (change: Change, rule: PlanRule | undefined) =>
    rule ? linkHeaderOf(change, rule, urls) : null;
  const files = page.files.map(({ url, isNew, content }): FileToPutIn => ({
    name: pathOn(url, page.url),
    what: isNew ? 'new' : 'changed',
    bytes: bytesOfFile({ content }).length,
    changes: page.changes.filter((one) => one.where === url).map(toPutIn),
    key: keyOf(url, typeof content === 'string' ? content : ''),
  }));
  const inPage = page.changes.filter(({ at }) => at !== null).sort((a, b) => a.at! - b.at!);
  const html: FileToPutIn = {
    name: pathOn(page.url, page.url),
    what: 'page',
    bytes: page.bytes,
    changes: inPage.map(toPutIn),
    key: keyOf(page.url),
  };
  return [
    ...files.filter(({ what }) => what === 'new'),
    ...files.filter(({ what }) => what === 'changed'),
    ...(inPage.length ? [html] : []),
  ];
}

function wayBackOf({ before, after }: Change): string {
  if (!before) return 'Take it out again.';
  return after ? 'Put back what stood there.' : 'Put it back.';
}

function pathOn(url: string, pageUrl: string): string {
  const { origin, pathname, search } = new URL(url);
  return origin === new URL(pageUrl).origin ? pathname + search : url;
}

const keyOf = (...parts: string[]) => checksum(parts.join('\n')).toString(36);
