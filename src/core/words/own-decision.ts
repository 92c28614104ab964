import { matchText, type Match, type PlanRule } from '../treat/plan.ts';

/** A rule of the user's own plan that is not as recommended. */
export interface OwnDecision {
  ruleId: string;
  match: Match;
  /** What it does, and what it would do as recommended, as screens call it. */
  does: string;
  recommended: string;
  /** Why the user decided so; '' where that was not said. */
  why: string;
  /** The rule as recommended; null where none is recommended for its asset. */
  rule: PlanRule | null;
}

/** Where another plan differs, as a sentence: "chat.js: delay until interaction there, defer here." */
export function differenceSentence({ match, does, recommended }: OwnDecision): string {
  return `${nameOf(match)}: ${does} there, ${recommended} here.`;
}

/** A decision as a sentence: "chat.js: delay until interaction instead of defer, since the desk asks for it." */
export function decisionSentence({ match, does, recommended, why }: OwnDecision): string {
  const reason = why.trim().replace(/\.$/, '');
  return `${nameOf(match)}: ${does} instead of ${recommended}${reason ? `. ${reason}.` : '; no reason was given.'}`;
}

function nameOf(match: Match): string {
  return 'url' in match ? (match.url.split(/[?#]/)[0]!.split('/').at(-1) ?? match.url) : matchText(match);
}
