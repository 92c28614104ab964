import type { PageEmbed } from '../embeds/page-embeds.ts';
import type { PageAssets } from '../page/page-assets.ts';
import { fileNameOf } from '../path/names.ts';
import type { ScriptFacts } from '../scripts/analyse.ts';
import { excerptAt, placeOf } from './places.ts';
import type { Place, Refusal } from './refusal.ts';
import { insertedBy } from './sharing.ts';

type WorksWith = Extract<Refusal, { code: 'works-with-embed' }>;

/** Shorter ones are words of anything. */
const LEAST_LENGTH = 3;
/** What reaches into an embed, whichever way it was found. */
const INTO_EMBEDS = ['contentWindow', 'frames'];

/** What the page runs: its text, what is known of it, and where a line of it is found. */
interface Doer {
  text: string;
  facts: ScriptFacts;
  at: (line: number) => Place;
}

/**
 * Why an embed may not come later than it does: a script of the page, or one that such a script puts in, goes by it,
 * looks for embeds, hears what they say, or cannot be read. Null where none does.
 */
export function worksWithEmbed(page: PageAssets, embed: PageEmbed): WorksWith | null {
  const names = namesOf(embed);
  const own = names.length ? new RegExp(`(?<![\\w-])(?:${names.map(escaped).join('|')})(?![\\w-])`) : null;
  for (const doer of doersOf(page)) {
    const found = own?.exec(doer.text);
    if (found) return refusal({ how: 'goes by it', name: found[0] }, doer.at(lineAt(doer.text, found.index)));
    const works = worksWithAny(doer);
    if (works) return works;
  }
  for (const { code, line } of page.document.handlers) {
    const found = own?.exec(code) ?? /\b(contentWindow|frames)\b/.exec(code);
    if (found)
      return refusal(
        { how: 'goes by it', name: found[0] },
        { file: null, line, excerpt: code.slice(0, 110) },
      );
  }
  return null;
}

function worksWithAny({ facts: { unreadable, effects }, at }: Doer): WorksWith | null {
  if (unreadable !== null) return refusal({ how: 'unreadable', why: unreadable }, at(1));
  const looks = effects.elements.find(({ seeks }) => seeks?.has('iframe'));
  if (looks) return refusal({ how: 'looks for any' }, at(looks.line));
  const hears = effects.accesses.find(
    ({ name, kind, members }) =>
      (name === 'event' && kind === 'read' && members?.has('message')) || name === 'onmessage',
  );
  if (hears) return refusal({ how: 'hears them' }, at(hears.line));
  // What it looks for is not known, and what it reaches for is what embeds have.
  const reaches = INTO_EMBEDS.map((one) => effects.properties.get(one)).find((line) => line !== undefined);
  if (reaches === undefined || !effects.elements.some(({ seeks }) => seeks === null)) return null;
  return refusal({ how: 'looks for any' }, at(reaches));
}

function doersOf(page: PageAssets): Doer[] {
  const { captured, scripts } = page;
  const inPage = scripts.map((script): Doer => ({
    text:
      script.element.url === null ? script.element.element.text : (captured.text(script.element.url) ?? ''),
    facts: script.facts,
    at: (line) => placeOf(script, { line, excerpt: excerptAt(script, line) }),
  }));
  const inserted = new Set(scripts.flatMap((script) => insertedBy(page, script)));
  return [
    ...inPage,
    ...[...inserted].map((url): Doer => ({
      text: captured.text(url) ?? '',
      facts: captured.factsAt(url),
      at: (line) => ({ file: fileNameOf(url), line, excerpt: '' }),
    })),
  ];
}

function refusal(works: WorksWith['works'], place: Place): WorksWith {
  return { code: 'works-with-embed', works, place };
}

function lineAt(text: string, index: number): number {
  return text.slice(0, index).split('\n').length;
}

function namesOf({ elements }: PageEmbed): string[] {
  const found = elements.flatMap(({ attributes }) => [
    attributes['id'] ?? '',
    ...(attributes['class'] ?? '').split(/\s+/),
  ]);
  return [...new Set(found)].filter((one) => one.length >= LEAST_LENGTH);
}

function escaped(text: string): string {
  return text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');
}
