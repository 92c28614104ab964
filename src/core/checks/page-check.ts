import type { Outcome } from '../rehearse/outcome.ts';
import { signature, surplus } from '../rehearse/outcome.ts';

/** Something done on a page as treated that came to the same as on the page as authored, or that nothing can be said of. */
export interface PageCheck {
  /** "on a phone, “Menu” tapped". */
  words: string;
  /** What it came to as authored: "2 elements change (ul.stops); the focus moves". */
  effect: string;
  /** Why nothing can be said of it; null where it came to the same. */
  undecided: string | null;
  /** The developer's own words, where it is a check of theirs. */
  own?: string;
}

/** Where more of a page's elements than this share are not the same twice, nothing is decided. */
const MOST_MASKED = 0.1;
const MOST_NAMED = 2;

/** Why nothing can be said of a deed; null where something can. */
export function whyUndecided(
  authored: Outcome,
  maskedElements: ReadonlySet<string>,
  unanswered: readonly string[],
): string | null {
  const [first] = unanswered;
  if (first) return `it asks for ${first}, to which the capture holds no answer`;
  const masked = authored.elements.filter((one) => maskedElements.has(signature(one))).length;
  return masked > authored.elements.length * MOST_MASKED
    ? `${Math.round((masked / authored.elements.length) * 100)} % of its elements are not the same twice as authored`
    : null;
}

/** What a deed changed, in words. */
export function effectOf(before: Outcome, after: Outcome): string {
  const [was, is] = [before.elements, after.elements].map((all) => all.map((one) => signature(one)));
  const changed = [...surplus(is!, was!), ...surplus(was!, is!)];
  const names = [...new Set(changed.map((one) => one.split('|')[0]!))];
  const shown =
    after.elements.filter(({ box }) => box).length - before.elements.filter(({ box }) => box).length;
  const asked = after.requests.filter((one) => !before.requests.includes(one)).length;
  const facts = after.facts.filter((one) => !before.facts.includes(one));
  const errors = after.errors.length - before.errors.length;
  const parts = [
    names.length
      ? `${names.slice(0, MOST_NAMED).join(', ')}${names.length > MOST_NAMED ? ` and ${names.length - MOST_NAMED} more` : ''} ${names.length === 1 ? 'changes' : 'change'}`
      : '',
    shown > 0 ? `${shown} more ${shown === 1 ? 'element is' : 'elements are'} laid out` : '',
    shown < 0 ? `${-shown} fewer ${shown === -1 ? 'element is' : 'elements are'} laid out` : '',
    asked > 0 ? `${asked} more ${asked === 1 ? 'file is' : 'files are'} asked for` : '',
    ...facts.slice(0, MOST_NAMED).map((one) => `it ${one}`),
    errors > 0 ? `${errors} ${errors === 1 ? 'error' : 'errors'}` : '',
  ].filter(Boolean);
  return parts.join('; ') || 'nothing changes';
}
