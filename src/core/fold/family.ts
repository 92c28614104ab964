import type { FlatSheet } from '../css/flatten.ts';
import type { Need, PageAnswers } from './choose.ts';
import type { OutsideNeeds } from './closure.ts';
import type { Concern } from './declarations.ts';
import type { FoldDecision } from './decisions.ts';
import { compressedBytes, makeFoldCss } from './fold-css.ts';
import type { StoredAnswers } from './record.ts';

/** One set of fold CSS for all pages of a family, or one for each. */
export type FamilyChoice = 'one set' | 'each its own';

/** The figures behind the choice, compressed bytes. */
export interface FamilyFigures {
  choice: FamilyChoice;
  pages: { name: string; ownBytes: number; oneSetBytes: number }[];
}

/** One set may be larger than a page's own by this share, and this much, before each is better off alone. */
const MORE_SHARE = 0.15;
const MORE_BYTES = 512;

/**
 * One set when, for the page it costs most, it is little more than that page's own: one file to keep and to
 * prove, and the same for each next page of the family.
 */
export function recommendedChoice(pages: FamilyFigures['pages']): FamilyChoice {
  return pages.length > 1 &&
    pages.every((page) => page.oneSetBytes <= page.ownBytes * (1 + MORE_SHARE) + MORE_BYTES)
    ? 'one set'
    : 'each its own';
}

/** Puts together what pages said: whatever concerns one of them concerns all. */
export function joinAnswers(stored: readonly StoredAnswers[]): {
  answers: PageAnswers;
  outside: OutsideNeeds;
} {
  const strength: Record<Concern, number> = { painted: 3, shaping: 2, hidden: 1 };
  const concerns = new Map<string, Concern>();
  const neededBy = new Map<string, Need[]>();
  for (const one of stored) {
    for (const [key, concern] of one.concerns) {
      const known = concerns.get(key);
      if (!known || strength[concern] > strength[known]) concerns.set(key, concern);
    }
    for (const [key, needs] of one.neededBy) neededBy.set(key, [...(neededBy.get(key) ?? []), ...needs]);
  }
  return {
    answers: {
      concerns,
      neededBy,
      rejected: new Set(stored.flatMap((one) => one.rejected)),
      liveMedia: new Set(stored.flatMap((one) => one.liveMedia)),
    },
    outside: {
      css: stored.map((one) => one.outsideCss).join('\n'),
      faces: stored.flatMap((one) => one.faces),
    },
  };
}

/** Compressed size that one set for all these pages would have on a page with these sheets. */
export function oneSetBytes(
  sheets: readonly FlatSheet[],
  stored: readonly StoredAnswers[],
  decisions: readonly FoldDecision[],
  documentUrl: string,
): number {
  const set = makeFoldCss({
    sheets,
    unsure: new Set(),
    ...joinAnswers(stored),
    elementsOf: null,
    decisions,
    documentUrl,
  });
  return compressedBytes(set.sheets.map((sheet) => sheet.css).join('\n'));
}
