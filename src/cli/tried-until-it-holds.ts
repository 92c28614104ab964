import { weaken } from '../core/rehearse/weaken.ts';
import type { Rehearsal } from '../core/rehearse/rehearsal.ts';
import { withRulesOf, type Plan } from '../core/treat/plan.ts';
import type { Scene } from '../core/treat/treatment.ts';
import { toldFaults, type ToldFault, type TriedPage } from '../core/words/at-fault.ts';

/** So often a proof leaves out what a trial shows to break the page, and tries the rest again. */
export const MOST_TRIED_AGAIN = 2;

/** A plan, and what rehearsing it has shown; null where it was not rehearsed. */
export interface Rehearsed {
  plan: Plan;
  rehearsal: Rehearsal | null;
}

/** What trying a plan takes. */
export interface Trying<H extends { trial: TriedPage }> {
  /** What treating the page is decided on. */
  scene: Scene;
  /** Checks that may differ: what they found is no reason to except a rule. */
  allowed: ReadonlySet<string>;
  hold: (plan: Plan, rehearsal: Rehearsal | null) => Promise<H>;
  rehearse: (plan: Plan) => Promise<Rehearsal | null>;
  /** Told of each plan that comes after the first. */
  onLess: (plan: Plan) => void;
}

/**
 * Holds trials until nothing breaks that a rule was found for: the rules that a trial shows to break the page are
 * excepted, what is left is rehearsed, since less of a plan may break what all of it did not, and tried again, at most
 * `MOST_TRIED_AGAIN` times.
 *
 * @returns the last trial with the plan that it was held of, and in sentences what was excepted and what still breaks
 */
export async function triedUntilItHolds<H extends { trial: TriedPage }>(
  first: Rehearsed,
  { scene, allowed, hold, rehearse, onLess }: Trying<H>,
): Promise<H & { plan: Plan; excepted: string[] }> {
  const excepted: string[] = [];
  let { plan, rehearsal } = first;
  for (let again = 0; ; again++) {
    // What rehearsing excepted is not in the plan that is tried.
    const held = await hold(plan, rehearsal && { ...rehearsal, exceptions: [], gaveUp: false });
    const told = toldFaults(held.trial, plan.rules);
    const faults = told.filter((fault) => fault.name !== null && !isAllowed(fault, allowed));
    if (faults.length === 0 || again === MOST_TRIED_AGAIN)
      return { ...held, plan, excepted: [...excepted, ...told.map(({ sentence }) => sentence)] };
    excepted.push(...faults.map(({ name, why }) => `Excepted, ${name}: ${why}`));
    for (const [ruleId, why] of whyByRule(faults)) {
      const rule = plan.rules.find(({ id }) => id === ruleId)!;
      plan = weaken(scene, plan, rule, why, 'Tried');
    }
    rehearsal = await rehearse(plan);
    if (rehearsal) plan = withRulesOf(rehearsal.plan, plan);
    onLess(plan);
  }
}

function isAllowed({ kind, onOther }: ToldFault, allowed: ReadonlySet<string>): boolean {
  return allowed.has(kind) || (onOther && allowed.has('other-device'));
}

/** Each rule once, with all that it does: it has less done by it once, not once for each. */
function whyByRule(faults: readonly ToldFault[]): Map<string, string> {
  const by = new Map<string, string>();
  for (const { ruleId, why } of faults)
    if (ruleId !== null) by.set(ruleId, [by.get(ruleId), why].filter((one) => one !== undefined).join(' '));
  return by;
}
