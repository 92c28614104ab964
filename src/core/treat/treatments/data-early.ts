import { momentIn, ownHeaders, type PageData } from '../../data/page-data.ts';
import { ownPreloads } from '../../hints/own-preloads.ts';
import { attributeValue } from '../../html/markup.ts';
import { fileNameOf } from '../../path/names.ts';
import type { PageAssets } from '../../page/page-assets.ts';
import { addressIn } from '../new-files.ts';
import { excerptAt, placeOf } from '../places.ts';
import type { Refusal } from '../refusal.ts';
import { NO_SETTINGS, type Treatment } from '../treatment.ts';

/** Ways of asking that a tag has no words for, or other ones. */
const OTHERWISE =
  /\bcredentials["']?\s*:|\bwithCredentials["']?\s*[:=]\s*(true|!0)|\bmode["']?\s*:\s*["'](same-origin|no-cors)/;

const SETS_COOKIES = /\.cookie\s*=(?!=)|\bcookieStore\b/;

/**
 * Data that a script asks for is asked for with the page, and waits for the script (Preload, "as=fetch"). The script has
 * to ask in the very same way: as `fetch()` and `XMLHttpRequest` do where nothing else is said.
 */
export const dataEarly: Treatment<'data'> = {
  id: 'early',
  kind: 'data',
  label: 'asked for with the page',
  risk: { level: 'medium', why: 'where the script asks in another way than the tag, it is fetched twice' },
  settings: NO_SETTINGS,
  onlySooner: true,
  isFor: () => true,
  refuses(data, { page }) {
    const { url, exchange } = data;
    const own = ownPreloads(page, url)[0];
    if (own) return { code: 'hinted', line: own.line };
    if (exchange.status !== 200) return { code: 'not-answered', status: exchange.status };
    const headers = ownHeaders(data);
    if (headers.length) return { code: 'own-headers', headers };
    const { seenOnce, clock } = page.captured.capture;
    const moment = momentIn(url, clock?.startMs ?? null);
    if (moment !== null) return { code: 'of-the-moment', part: moment };
    if (seenOnce.includes(url)) return { code: 'not-always' };
    const sent = sentBefore(data, page);
    if (sent) return { code: 'after-sending', url: sent };
    return (
      saidIn(page, OTHERWISE, 'asked-otherwise') ??
      // Cookies go with the request: asked for before, it may be answered otherwise.
      saidIn(page, SETS_COOKIES, 'sets-cookies')
    );
  },
  note: () => 'what is asked for ahead takes its part of the line from what paints',
  contributes({ url }, { page }) {
    const href = attributeValue(addressIn(page, url));
    return {
      headTags: [
        {
          title: `${fileNameOf(url)}: preload`,
          tag: `<link rel="preload" as="fetch" href="${href}" crossorigin>`,
        },
      ],
    };
  },
};

/** What a script sent to the same host before: the answer may be another because of it. */
function sentBefore({ url, exchange }: PageData, { captured }: PageAssets): string | null {
  const { exchanges } = captured.capture;
  const sent = exchanges.find(
    (one) =>
      one.method !== 'GET' &&
      /^(data|beacon)$/.test(one.kind) &&
      one.order < exchange.order &&
      new URL(one.url).origin === new URL(url).origin,
  );
  return sent?.url ?? null;
}

/** Where a script of the page says something that concerns what is asked for: which of its requests, nobody can tell. */
function saidIn(
  { scripts, captured }: PageAssets,
  pattern: RegExp,
  code: 'asked-otherwise' | 'sets-cookies',
): Refusal | null {
  for (const script of scripts.filter(({ element }) => element.url === null)) {
    const line = lineOf(script.element.element.text, pattern);
    if (line !== null) return { code, place: placeOf(script, { line, excerpt: excerptAt(script, line) }) };
  }
  for (const { url, kind, status } of captured.capture.exchanges) {
    if (kind !== 'script' || status !== 200) continue;
    const text = captured.text(url);
    if (text === null) return { code: 'unreadable', why: `the capture does not hold ${fileNameOf(url)}` };
    const line = lineOf(text, pattern);
    if (line !== null) return { code, place: { file: fileNameOf(url), line, excerpt: '' } };
  }
  return null;
}

/** The line on which a pattern is found; null for none. */
function lineOf(text: string, pattern: RegExp): number | null {
  const found = pattern.exec(text);
  return found && text.slice(0, found.index).split('\n').length;
}
