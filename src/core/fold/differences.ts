import type { FoldSheet } from './fold-css.ts';
import type { KeptRule } from './choose.ts';

/** Rules of a new set that the one before had not, and the other way round. */
export interface RuleDifferences {
  added: KeptRule[];
  removed: KeptRule[];
}

/** Compares two sets rule by rule; a rule that only moved to another line is the same. */
export function ruleDifferences(before: readonly FoldSheet[], after: readonly FoldSheet[]): RuleDifferences {
  const rules = (sheets: readonly FoldSheet[]) =>
    new Map(
      sheets.flatMap((sheet) =>
        sheet.kept.map((rule): [string, KeptRule] => [
          `${rule.sheetUrl}\n${rule.context}\n${rule.selector}`,
          rule,
        ]),
      ),
    );
  const [old, now] = [rules(before), rules(after)];
  return {
    added: [...now].filter(([key]) => !old.has(key)).map(([, rule]) => rule),
    removed: [...old].filter(([key]) => !now.has(key)).map(([, rule]) => rule),
  };
}
