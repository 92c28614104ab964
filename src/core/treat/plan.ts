import { fileNameOf } from '../path/names.ts';

export type Risk = 'low' | 'medium' | 'high';
export const RISKS: readonly Risk[] = ['low', 'medium', 'high'];

/** What a rule matches: an address, a host, or an inline script by how its text begins. */
export type Match = { url: string } | { host: string } | { inline: string };

export const RULE_KINDS = [
  'stylesheet',
  'script',
  'font',
  'font-file',
  'image',
  'image-file',
  'embed',
  'data',
  'host',
  'next',
] as const;
export type RuleKind = (typeof RULE_KINDS)[number];

/** One rule of a plan. */
export interface PlanRule {
  id: string;
  on: boolean;
  kind: RuleKind;
  match: Match;
  /** For which pages it was decided: this one, its family, or the whole site. */
  scope: 'page' | 'family' | 'site';
  /** Id of a treatment of this kind. */
  treatment: string;
  reason: string;
  /** Why the user decided otherwise than recommended. */
  why?: string;
  risk: Risk;
  /** What goes with it under the same switch: the snippet that hides the page, say. */
  together?: Match[];
}

/** An ordered list of rules for one page: a file that a person can read and edit. */
export interface Plan {
  wistrelPlan: 1;
  page: string;
  rules: PlanRule[];
}

/** How many first characters of an inline script's text a rule keeps to find it again. */
export const INLINE_KEY_LENGTH = 80;

/**
 * The key by which a rule finds an inline script: its text, white space folded; of a longer one the beginning, and a
 * number by which it is told from others that begin alike.
 */
export function inlineKey(text: string): string {
  const folded = text.trim().replace(/\s+/g, ' ');
  return folded.length <= INLINE_KEY_LENGTH
    ? folded
    : `${folded.slice(0, INLINE_KEY_LENGTH)} …${checksum(folded).toString(16)}`;
}

/** FNV-1a, 32 bits: tells texts apart, guards nothing. */
export function checksum(text: string): number {
  let sum = 0x811c9dc5;
  for (let at = 0; at < text.length; at++) sum = Math.imul(sum ^ text.charCodeAt(at), 0x01000193);
  return sum >>> 0;
}

/** One text for a match, for comparing and for labels. */
export function matchText(match: Match): string {
  if ('url' in match) return match.url;
  return 'host' in match ? match.host : `inline: ${match.inline}`;
}

/** What a match is called where a word has to do: the file's name, the host. */
export function matchName(match: Match): string {
  if ('inline' in match) return 'inline script';
  return 'host' in match ? match.host : fileNameOf(matchText(match));
}

/** What a rule does: switched off it leaves its asset as authored. */
export function effectOf({ on, treatment }: Pick<PlanRule, 'on' | 'treatment'>): string {
  return on ? treatment : 'as-authored';
}

export function sameMatch(a: Match, b: Match): boolean {
  return (
    matchText(a) === matchText(b) ||
    ('inline' in a && 'inline' in b && (isOlderKeyOf(a.inline, b.inline) || isOlderKeyOf(b.inline, a.inline)))
  );
}

/** Plans of before know a long inline script by its beginning alone. */
function isOlderKeyOf(older: string, key: string): boolean {
  return older.length === INLINE_KEY_LENGTH && key.startsWith(`${older} …`);
}

/** The rules that act: switched on and not as authored. */
export function activeRules(plan: Plan): PlanRule[] {
  return plan.rules.filter((rule) => rule.on && rule.treatment !== 'as-authored');
}

/** Whether fold CSS is part of what a plan does. */
export function usesFold(plan: Plan): boolean {
  return activeRules(plan).some((rule) => /^fold-css-/.test(rule.treatment));
}

/** Two plans that act alike have the same text, in whatever order their rules and keys were stored. */
export function planFingerprint(plan: Plan): string {
  const rules = activeRules(plan).map((rule) =>
    JSON.stringify([rule.kind, matchText(rule.match), rule.treatment, (rule.together ?? []).map(matchText)]),
  );
  return `[${rules.sort().join(',')}]`;
}

/**
 * A plan with the rules that another one has besides: what was rehearsed before something could be asked for ahead
 * knows nothing of it.
 */
export function withRulesOf(plan: Plan, other: Plan): Plan {
  const ids = new Set(plan.rules.map((rule) => rule.id));
  const more = other.rules
    .filter(({ kind, match }) => !plan.rules.some((one) => one.kind === kind && sameMatch(one.match, match)))
    .map((rule) => {
      const id = ids.has(rule.id) ? freeId(ids) : rule.id;
      ids.add(id);
      return { ...rule, id };
    });
  return more.length ? { ...plan, rules: [...plan.rules, ...more] } : plan;
}

/** An id that no rule has. */
export function freeId(ids: ReadonlySet<string>): string {
  let number = ids.size + 1;
  while (ids.has(`r${number}`)) number++;
  return `r${number}`;
}
