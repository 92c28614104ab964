import type { PageScript } from '../page/page-assets.ts';

/** Where a script makes elements of the page answer a visitor; null where it does not. */
export function answersTouch({ facts }: PageScript): { line: number } | null {
  const { elements } = facts.effects;
  const answer = elements.find(({ phase, writes }) => phase === 'input' && writes);
  // What it has put there itself is not there before it.
  const ofPage = elements.some(({ seeks }) => seeks === null || seeks.size > 0);
  return answer && ofPage ? { line: answer.line } : null;
}
