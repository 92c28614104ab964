import type { KeptRule } from './choose.ts';

/** Why a rule is in the fold CSS, as a sentence. */
export function whyKept(rule: KeptRule): string {
  const first = rule.neededBy[0];
  const more = rule.neededBy.length - 1;
  const where = first
    ? `${first.element} at ${first.viewport}${more > 0 ? ` and ${more} more viewport${more > 1 ? 's' : ''}` : ''}`
    : null;
  switch (rule.reason) {
    case 'decided':
      return 'You said that it is always kept.';
    case 'not asked':
      return 'Its selector could not be asked of the page, so it is kept.';
    case 'named':
      return 'Rules that are kept name it, or text above the fold is painted with it.';
    case 'matches':
      switch (rule.concern) {
        case 'painted':
          return `It paints ${where ?? 'something above the fold'}.`;
        case 'shaping':
          return `It places ${where ?? 'something'}, which shapes what is above the fold from outside it.`;
        case 'hidden':
          return `It hides ${where ?? 'something'}, which would otherwise lie above the fold.`;
      }
  }
}
