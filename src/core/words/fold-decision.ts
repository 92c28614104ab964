import type { FoldDecision } from '../fold/decisions.ts';

/** A decision in words. */
export function decisionInWords({ verb, by, what }: FoldDecision): string {
  const object =
    by === 'selector'
      ? `rules that name ${what}`
      : by === 'rule'
        ? `the rule ${what}`
        : by === 'sheet'
          ? `the stylesheet ${what}`
          : `what ${what} needs`;
  return verb === 'keep' ? `Always keep ${object}` : `Always leave out ${object}`;
}
