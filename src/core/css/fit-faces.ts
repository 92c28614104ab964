import { string } from 'css-tree';
import type { AtRule, Declaration } from 'postcss';
import { readFace, type DeclaredFace } from '../fonts/faces.ts';
import type { FaceFit } from '../fonts/fit.ts';
import { originalOffsets } from './original-offsets.ts';
import { parseSheet } from './parse-sheet.ts';
import { editedText, type TextEdit } from './text-edits.ts';
import { unquote } from './urls.ts';

/** A sheet whose lists of families name fallbacks of the measure. */
export interface FittedSheet {
  css: string;
  /** Each list as it was and as it is, and each rule put in, in their order. */
  changes: { families: readonly string[]; before: string; after: string }[];
}

/**
 * Names fitted fallbacks behind the families that they stand in for, wherever the sheet lists these, and puts their rules
 * behind the faces that it declares. All else of the text stays character for character.
 */
export function fitFaces(css: string, fits: readonly FaceFit[]): FittedSheet {
  // Most sheets name none of them: reading those is spared.
  const lower = css.toLowerCase();
  if (!fits.some(({ face }) => mentions(lower, face.family))) return { css, changes: [] };
  const original = originalOffsets(css);
  const puts: { at: number; text: string; start: number; end: number; family: string }[] = [];
  const names = namesOf(fits);
  parseSheet(css, '').walk((node) => {
    if (!node.source?.start || !node.source.end) return;
    const [start, end] = [original(node.source.start.offset), original(node.source.end.offset)];
    if (node.type === 'atrule' && /^font-face$/i.test(node.name)) {
      // An unclosed one at the end of the sheet takes in what is put behind it.
      const text = css[end - 1] === '}' ? rulesFor(node, fits) : '';
      if (text) puts.push({ at: end, text, start, end, family: readFace(node).family });
    } else if (node.type === 'decl' && !isInFace(node) && LISTS.test(node.prop)) {
      const from = css.indexOf(':', start) + 1;
      for (const { at, ...put } of namedIn(css.slice(from, end), node.prop, names))
        puts.push({ at: from + at, ...put, start, end });
    }
  });
  puts.sort((a, b) => a.at - b.at);
  const changed = puts.filter(({ start }, index) => start !== puts[index - 1]?.start);
  return {
    css: editedText(css, puts.map(asEdit)),
    changes: changed.map(({ start, end }) => {
      const of = puts.filter((one) => one.start === start);
      return {
        families: of.map((one) => one.family),
        before: css.slice(start, end),
        after: editedText(css, of.map(asEdit), start, end),
      };
    }),
  };
}

const asEdit = ({ at, text }: { at: number; text: string }): TextEdit => ({ start: at, end: at, text });

/** Whether a text may name a family, however its words are parted. */
const mentions = (lower: string, family: string) =>
  family.split(/[^a-z0-9]+/).every((word) => lower.includes(word));

const LISTS = /^(font-family|font|--.+)$/i;
/** In the shorthand the first family stands behind the size, and its line height (CSS Fonts 4, section 2.7). */
const BEHIND_SIZE =
  /(?:^|\s)(?:[+-]?[\d.]+(?:%|[a-z]+)|(?:var|calc|clamp|min|max)\([^\s]*\)|(?:x{0,2}-?)(?:small|large)(?:er)?|xxx-large|medium)(?:\s*\/\s*[^\s]+)?\s+(.+)$/i;
const isInFace = ({ parent }: Declaration) =>
  parent?.type === 'atrule' && /^font-face$/i.test((parent as AtRule).name);

/** The fallbacks' names by family, each once however many faces it stands in for. */
function namesOf(fits: readonly FaceFit[]): Map<string, string[]> {
  const found = new Map<string, string[]>();
  for (const { face, fallbacks } of fits) {
    const of = found.get(face.family) ?? [];
    found.set(face.family, [...new Set([...of, ...fallbacks.map((one) => one.name)])]);
  }
  return found;
}

function rulesFor(rule: AtRule, fits: readonly FaceFit[]): string {
  const face = readFace(rule);
  const fit = fits.find((one) => isSameFace(one.face, face));
  return fit ? fit.fallbacks.map((one) => one.css).join('') : '';
}

function isSameFace(a: FaceFit['face'], b: DeclaredFace): boolean {
  return (
    a.family === b.family &&
    a.italic === b.italic &&
    String(a.weights) === String(b.weights) &&
    String(a.ranges) === String(b.ranges)
  );
}

/**
 * Where a list of families names one that is fitted, and what is put there: behind it. In a property of the author's own
 * (`--…`) only what is a list is one: a lone word may stand for anything.
 */
function namedIn(
  value: string,
  prop: string,
  names: ReadonlyMap<string, readonly string[]>,
): { at: number; text: string; family: string }[] {
  const items = itemsOf(value);
  if (items === null || (prop.startsWith('--') && items.length < 2)) return [];
  return items.flatMap(({ text, end }, index) => {
    const bare = text.replace(/\s*!\s*important\s*$/i, '').trimEnd();
    const family =
      index === 0 && /^font$/i.test(prop) ? (BEHIND_SIZE.exec(bare)?.[1] ?? '') : bare.trimStart();
    // Words without quotes are joined by single spaces (CSS Fonts 4, section 2.1).
    const name = unquote(/^["']/.test(family) ? family : family.replace(/\s+/g, ' ')).toLowerCase();
    const given = names.get(name);
    if (!given) return [];
    return [
      {
        family: name,
        at: end - text.length + bare.length,
        text: given.map((one) => `,${string.encode(one)}`).join(''),
      },
    ];
  });
}

/** The items of a list that commas part, outside quotes and parentheses; null where there are comments in it. */
function itemsOf(value: string): { text: string; end: number }[] | null {
  if (value.includes('/*')) return null;
  const items: { text: string; end: number }[] = [];
  const [whole, last] = [/((?:[^,"'()]|"[^"]*"|'[^']*'|\((?:[^()]|\([^()]*\))*\))*)(,|$)/y, value.length];
  for (;;) {
    const match = whole.exec(value);
    if (!match) return null;
    const end = whole.lastIndex - match[2]!.length;
    items.push({ text: match[1]!, end });
    if (end >= last) return items;
  }
}
