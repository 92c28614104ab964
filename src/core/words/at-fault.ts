import { capital } from '../path/words.ts';
import { matchName, type PlanRule } from '../treat/plan.ts';
import { treatmentLabel } from '../treat/treatments/index.ts';
import type { AtFault } from '../trial/at-fault.ts';
import type { Break } from '../trial/breaks.ts';

/** A way of breaking with the rule it comes of, in words. */
export interface ToldFault extends AtFault {
  sentence: string;
  /** The same in short, as a reason for excepting the rule. */
  why: string;
  /** What the rule is called; null where none was found. */
  name: string | null;
}

/** What is told of. */
export interface TriedPage {
  checks: { atFault: readonly AtFault[]; otherDevice: { breaks: readonly Break[] } | null };
  result: { breaks: readonly Break[] };
}

/** Which rules a trial's breaks come of, each as sentences. @param rules those of the plan that was tried */
export function toldFaults({ checks, result }: TriedPage, rules: readonly PlanRule[]): ToldFault[] {
  return checks.atFault.map((fault) => {
    const breaks = fault.onOther ? (checks.otherDevice?.breaks ?? []) : result.breaks;
    const where = fault.onOther ? ' on the other kind of device' : '';
    const broken =
      breaks.flatMap(({ kind, words }) => (kind === fault.kind ? [words] : [])).join(', ') + where;
    const rule = rules.find(({ id }) => id === fault.ruleId);
    const name = rule ? matchName(rule.match) : null;
    const told = rule
      ? `that comes of ${whichOf(rule)}, “${treatmentLabel(rule.kind, rule.treatment)}”. ${fault.goneWithout ? 'Without it, that is gone.' : 'Without it the page still breaks so: another rule does it too.'}`
      : 'no single rule was found that it comes of.';
    return { ...fault, sentence: `${capital(broken)}: ${told}`, why: `In a trial with it: ${broken}.`, name };
  });
}

/** Of several inline scripts each is known by how it begins. */
function whichOf({ match }: PlanRule): string {
  const name = matchName(match);
  return 'inline' in match ? `${name} “${match.inline.slice(0, BEGINNING)}…”` : name;
}

const BEGINNING = 40;
