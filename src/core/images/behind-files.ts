import { string } from 'css-tree';
import type { AtRule, Declaration, Rule } from 'postcss';
import { NARROW_UP_TO } from './lighter.ts';
import { imageLayers, type ImageLayer } from '../css/image-layers.ts';
import { originalOffsets } from '../css/original-offsets.ts';
import { parseSheet } from '../css/parse-sheet.ts';
import { editedText, type TextEdit } from '../css/text-edits.ts';
import type { AddressesOf } from '../css/urls.ts';

/** One of the files that stand beside another, of which a browser takes the first that it knows. */
export interface BehindOption {
  url: string;
  /** Its pixels to one of the file itself: with it, it is as large where its place goes by that. */
  density: number;
  type: string;
}

/** What stands beside a file that styles put behind elements. */
export interface BehindFile {
  /** On screens of any width; null where the file itself is right on wide ones. */
  wide: readonly BehindOption[] | null;
  /** On narrow ones; null where the same is. */
  narrow: readonly BehindOption[] | null;
}

/** Screens that are given the narrow one. */
export const NARROW = `(max-width:${NARROW_UP_TO}px)`;

/** A sheet in which other files stand beside some. */
export interface LighterSheet {
  css: string;
  /** Each declaration or rule, as it was and as it is, with the addresses that it is about. */
  changes: { urls: readonly string[]; before: string; after: string }[];
}

/**
 * Puts files beside those that a sheet puts behind elements: a declaration of the same pictures with the other files
 * right after the authored one, which browsers that cannot read it leave out (CSS Syntax 3, section 9), and behind its rule
 * one for narrow screens. All else of the text stays character for character.
 */
export function withBehindFiles(
  css: string,
  addresses: AddressesOf,
  files: ReadonlyMap<string, BehindFile>,
): LighterSheet {
  // Most sheets name none of them: reading those is spared.
  if (![...files.keys()].some((url) => css.includes(lastPartOf(url)))) return { css, changes: [] };
  const original = originalOffsets(css);
  const puts: Put[] = [];
  parseSheet(css, '').walkDecls(BACKGROUND, (declaration) => {
    const rule = ruleOf(declaration);
    const layers = imageLayers(declaration.value);
    if (!rule?.source?.end || !declaration.source?.end || !layers) return;
    const ruleEnd = original(rule.source.end.offset);
    // An unclosed one at the end of the sheet takes in what is put behind it.
    if (css[ruleEnd - 1] !== '}') return;
    const of = layers.map(({ url }) => (url === null ? null : addresses.read(url)));
    const urls = of.flatMap((url) => (url !== null && files.has(url) ? [url] : []));
    if (urls.length === 0) return;
    const write = (which: keyof BehindFile) => declared(declaration, layers, of, which, files, addresses);
    const wide = write('wide');
    const end = original(declaration.source.end.offset);
    if (wide) puts.push(putAt(css[end - 1] === ';' ? end - 1 : end, `;${wide}`, rule, urls));
    const narrow = isLast(declaration, rule) ? write('narrow') : null;
    if (narrow) puts.push(putAt(ruleEnd, `@media ${NARROW}{${rule.selector}{${narrow}}}`, rule, urls));
  });
  return putIn(css, puts, original);
}

const BACKGROUND = /^background(-image)?$/i;

function ruleOf({ parent }: Declaration): Rule | null {
  if (parent?.type !== 'rule') return null;
  const around = parent.parent;
  // Frames of animations are no rules of elements.
  const isFrame = around?.type === 'atrule' && /keyframes$/i.test((around as AtRule).name);
  return isFrame ? null : (parent as Rule);
}

/** Whether no later declaration of its rule says what stands behind. */
function isLast(declaration: Declaration, rule: Rule): boolean {
  const own = rule.nodes.filter((one) => one.type === 'decl' && BACKGROUND.test(one.prop));
  return own.at(-1) === declaration && rule.nodes.every((one) => one.type !== 'rule');
}

function declared(
  { important }: Declaration,
  layers: readonly ImageLayer[],
  of: readonly (string | null)[],
  which: keyof BehindFile,
  files: ReadonlyMap<string, BehindFile>,
  { write }: AddressesOf,
): string | null {
  const beside = of.map((url) => (url === null ? undefined : files.get(url)));
  if (!beside.some((one) => one?.[which])) return null;
  const values = layers.map(({ text }, index) => {
    // Where one of several has nothing for narrow screens, what is for all of them is right there as well.
    const options = beside[index]?.[which] ?? beside[index]?.wide;
    return options ? imageSet(options, write) : text;
  });
  return `background-image:${values.join(',')}${important ? '!important' : ''}`;
}

/** CSS Images 4, section 2.2. */
function imageSet(options: readonly BehindOption[], write: (url: string) => string): string {
  const written = options.map(
    ({ url, density, type }) =>
      `${string.encode(write(url))} ${Number(density.toFixed(4))}x type(${string.encode(type)})`,
  );
  return `image-set(${written.join(',')})`;
}

/** What is put into a sheet, and for which of its rules. */
interface Put extends TextEdit {
  of: Rule;
  urls: string[];
}

const putAt = (at: number, text: string, of: Rule, urls: string[]): Put => ({
  start: at,
  end: at,
  text,
  of,
  urls,
});

function putIn(css: string, puts: Put[], original: (offset: number) => number): LighterSheet {
  puts.sort((a, b) => a.start - b.start);
  const rules = [...new Set(puts.map((one) => one.of))];
  return {
    css: editedText(css, puts),
    changes: rules.map((rule) => {
      const own = puts.filter((one) => one.of === rule);
      const [start, end] = [original(rule.source!.start!.offset), original(rule.source!.end!.offset)];
      return {
        urls: [...new Set(own.flatMap((one) => one.urls))],
        before: css.slice(start, end),
        after: editedText(css, own, start, end),
      };
    }),
  };
}

/** What stands of an address in any way of writing it. */
function lastPartOf(url: string): string {
  const { pathname } = new URL(url);
  return decodeURIComponent(pathname.slice(pathname.lastIndexOf('/') + 1));
}
