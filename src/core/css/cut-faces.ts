import { string } from 'css-tree';
import type { AtRule, Declaration } from 'postcss';
import { othersThan, unicodeRange, type CodeRange } from '../fonts/smaller.ts';
import { originalOffsets } from './original-offsets.ts';
import { parseSheet } from './parse-sheet.ts';
import { editedText, type TextEdit } from './text-edits.ts';
import { urlPlaces, type AddressesOf } from './urls.ts';

/** A font file with fewer signs, and what it is asked for in the place of. */
export interface FaceCut {
  /** The address of the whole file. */
  url: string;
  /** The address of the smaller one. */
  smaller: string;
  /** The code points that the smaller one is asked for. */
  ranges: readonly CodeRange[];
}

/** A sheet in which faces have been cut. */
export interface CutSheet {
  css: string;
  /** Each face, as it was and as they are, with the address of its whole file. */
  changes: { url: string; before: string; after: string }[];
}

/**
 * Makes two faces of each that names a font file of which there is a smaller one: the first asks for that one, where a
 * text has a sign that it is for, the second for the whole file, where a text has any other (CSS Fonts 4, "Composite
 * faces"). Browsers that cannot read the smaller one find the whole file behind it. All else of the text stays character
 * for character.
 */
export function cutFaces(
  css: string,
  { read, write }: AddressesOf,
  cuts: ReadonlyMap<string, FaceCut>,
): CutSheet {
  if (cuts.size === 0 || !/@font-face/i.test(css)) return { css, changes: [] };
  const original = originalOffsets(css);
  const edits: TextEdit[] = [];
  const changes: CutSheet['changes'] = [];
  parseSheet(css, '').walkAtRules(/^font-face$/i, (rule) => {
    if (isInParts(rule)) return;
    const [start, end] = [original(rule.source!.start!.offset), original(rule.source!.end!.offset)];
    const before = css.slice(start, end);
    const brace = css.indexOf('{', start) + 1;
    // An unclosed one at the end of the sheet takes in what is put behind it.
    if (brace === 0 || brace > end || !before.endsWith('}')) return;
    const named = sourcesOf(rule).flatMap(({ source }) => {
      const [from, to] = [original(source!.start!.offset), original(source!.end!.offset)];
      return urlPlaces(css.slice(from, to)).flatMap(({ url, at }) => {
        const cut = cuts.get(read(url) ?? '');
        return cut ? [{ cut, at: from + at }] : [];
      });
    })[0];
    if (!named) return;
    const { cut, at } = named;
    const head = `${css.slice(start, brace)}unicode-range:`;
    const others = `${head}${unicodeRange(othersThan(cut.ranges))};${css.slice(brace, end)}`;
    const own: TextEdit[] = [
      { start: brace, end: brace, text: `unicode-range:${unicodeRange(cut.ranges)};` },
      { start: at, end: at, text: `url(${string.encode(write(cut.smaller))}) format("woff2"),` },
    ];
    edits.push(...own, { start: end, end, text: others });
    changes.push({ url: cut.url, before, after: editedText(css, own, start, end) + others });
  });
  edits.sort((a, b) => a.start - b.start);
  return { css: editedText(css, edits), changes };
}

/** A face that says already which signs it is for is one of several of its kind. */
export function isInParts(rule: AtRule): boolean {
  return rule.nodes?.some((one) => one.type === 'decl' && /^unicode-range$/i.test(one.prop)) ?? false;
}

function sourcesOf(rule: AtRule): Declaration[] {
  return (rule.nodes ?? []).flatMap((one) => (one.type === 'decl' && /^src$/i.test(one.prop) ? [one] : []));
}
