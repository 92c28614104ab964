import type { FlatSheet } from '../core/css/flatten.ts';
import type { FoldDecision } from '../core/fold/decisions.ts';
import {
  oneSetBytes,
  recommendedChoice,
  type FamilyChoice,
  type FamilyFigures,
} from '../core/fold/family.ts';
import type { StoredAnswers } from '../core/fold/record.ts';

/** A page of a family whose fold CSS is to be made. */
export interface FamilyPage {
  name: string;
  documentUrl: string;
  /** Its linked sheets; read when they are needed, as fifty pages' would not be held at once. */
  sheets(): Promise<FlatSheet[]>;
  decisions: readonly FoldDecision[];
  /** Makes, proves and stores its set: its own, or one that serves the others as well. */
  make(others: readonly StoredAnswers[]): Promise<{ answers: StoredAnswers; compressedBytes: number }>;
}

/**
 * Makes the fold CSS of a family: first each page's own, then, by the user's choice or where one set costs
 * little more, one set for all, proved on every page.
 */
export async function foldFamily(
  pages: readonly FamilyPage[],
  choice: FamilyChoice | null,
): Promise<FamilyFigures> {
  const own: { page: FamilyPage; answers: StoredAnswers; ownBytes: number }[] = [];
  for (const page of pages) {
    const made = await page.make([]);
    own.push({ page, answers: made.answers, ownBytes: made.compressedBytes });
  }
  const all = own.map((one) => one.answers);
  const figures: FamilyFigures['pages'] = [];
  for (const { page, ownBytes } of own)
    figures.push({
      name: page.name,
      ownBytes,
      oneSetBytes: oneSetBytes(await page.sheets(), all, page.decisions, page.documentUrl),
    });
  const chosen = choice ?? recommendedChoice(figures);
  if (chosen === 'one set' && pages.length > 1)
    for (const { page, answers } of own) await page.make(all.filter((one) => one !== answers));
  return { choice: chosen, pages: figures };
}
