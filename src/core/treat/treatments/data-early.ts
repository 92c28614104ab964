import { momentIn, ownHeaders } from '../../data/page-data.ts';
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
    return askedOtherwise(page);
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

/** Where a script of the page says that something is asked for in another way: which of its requests that is, nobody can tell. */
function askedOtherwise({ scripts, captured }: PageAssets): Refusal | null {
  for (const script of scripts.filter(({ element }) => element.url === null)) {
    const line = lineOf(script.element.element.text);
    if (line !== null)
      return { code: 'asked-otherwise', place: placeOf(script, { line, excerpt: excerptAt(script, line) }) };
  }
  for (const { url, kind, status } of captured.capture.exchanges) {
    if (kind !== 'script' || status !== 200) continue;
    const text = captured.text(url);
    if (text === null) return { code: 'unreadable', why: `the capture does not hold ${fileNameOf(url)}` };
    const line = lineOf(text);
    if (line !== null)
      return { code: 'asked-otherwise', place: { file: fileNameOf(url), line, excerpt: '' } };
  }
  return null;
}

/** The line on which that is said; null for none. */
function lineOf(text: string): number | null {
  const found = OTHERWISE.exec(text);
  return found && text.slice(0, found.index).split('\n').length;
}
