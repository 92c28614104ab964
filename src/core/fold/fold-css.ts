import { gzipSync } from 'fflate';
import type { FlatSheet } from '../css/flatten.ts';
import { chooseRules, type KeptRule, type PageAnswers } from './choose.ts';
import { closeOver, type OutsideNeeds } from './closure.ts';

/** The fold CSS of one stylesheet link, to stand in the link's place. */
export interface FoldSheet {
  url: string;
  css: string;
  kept: KeptRule[];
  rules: number;
  sourceBytes: number;
  foldBytes: number;
  parts: { url: string; bytes: number }[];
  problems: string[];
}

/** Makes a sheet's text smaller without changing what it says; returns the text itself when it cannot. */
export type Minify = (css: string) => string;

/**
 * Chooses the fold CSS of all linked sheets of a page.
 *
 * @param sheets one for each `<link>`, in document order
 * @param answers what the page said of their selectors and media queries
 */
export function makeFoldCss(
  sheets: readonly FlatSheet[],
  answers: PageAnswers,
  outside: OutsideNeeds,
  minify: Minify,
): FoldSheet[] {
  const chosen = sheets.map((sheet) => chooseRules(sheet, answers));
  closeOver(
    chosen.map((one) => one.root),
    outside,
  );
  return chosen.map((one, index) => {
    const css = minify(one.root.toString()).trim();
    const sheet = sheets[index]!;
    return {
      url: one.url,
      css,
      kept: one.kept,
      rules: one.rules,
      sourceBytes: sheet.parts.reduce((sum, part) => sum + part.bytes, 0),
      foldBytes: bytesOf(css),
      parts: sheet.parts,
      problems: sheet.problems,
    };
  });
}

/** UTF-8 length. */
export function bytesOf(text: string): number {
  return new TextEncoder().encode(text).length;
}

/** Bytes after gzip at its best level, as a server would send the text. */
export function compressedBytes(text: string): number {
  return gzipSync(new TextEncoder().encode(text), { level: 9 }).length;
}
