import type { Conditions } from '../measure/conditions.ts';
import type { RehearsalCheck, TrialChecks, TrialResult } from './verdict.ts';
import { planFingerprint, usesFold, type Plan } from '../treat/plan.ts';

/** What a trial was of, or would be of now. */
export interface TrialBasis {
  captureId: number;
  plan: Plan;
  /** What the fold CSS is, by its text and whether it may be used; null for none. */
  fold: string | null;
  /** Null for a trial of before, which did not note them. */
  conditions: Conditions | null;
  /** The developer's own checks, by their words; null where that is not known. */
  checks: readonly string[] | null;
}

/** Why a trial says nothing of what there is now, in words; none where it still holds. */
export function whyOtherBasis(trial: TrialBasis, now: TrialBasis): string[] {
  const reasons: string[] = [];
  if (trial.captureId !== now.captureId) reasons.push('the page was captured again');
  if (planFingerprint(trial.plan) !== planFingerprint(now.plan)) reasons.push('the plan was changed');
  else if (usesFold(now.plan) && trial.fold !== now.fold)
    reasons.push(now.fold === null ? 'its fold CSS is gone' : 'the fold CSS is another one');
  if (trial.conditions === null)
    reasons.push('an earlier version held it, which did not note its conditions');
  else if (now.conditions && !sameConditions(trial.conditions, now.conditions))
    reasons.push('the conditions were changed');
  const [tried, wanted] = [trial.checks, now.checks];
  if (tried && wanted && JSON.stringify(tried) !== JSON.stringify(wanted))
    reasons.push('the checks of your own were changed');
  return reasons;
}

/** Why a trial that calls a plan earlier does not prove it, in words: a trial of before was held on one kind of device. */
export function whyOnOneDevice({
  result,
  checks,
}: {
  result: Pick<TrialResult, 'verdict'>;
  checks: Pick<TrialChecks, 'otherDevice'>;
}): string[] {
  const untried = result.verdict === 'earlier' && checks.otherDevice === null;
  return untried ? ['an earlier version held it, on one kind of device only'] : [];
}

/** The developer's own checks that a trial's page was held to; null where nothing was done on it at all. */
export function checksTried(rehearsal: RehearsalCheck | null): string[] | null {
  if (!rehearsal?.deeds.length) return null;
  return [...new Set(rehearsal.deeds.flatMap(({ own }) => own ?? []))];
}

/** Whether two conditions make the same load; their names may differ. */
export function sameConditions(a: Conditions, b: Conditions): boolean {
  const loads = ({ name: _name, id: _id, ...rest }: Conditions) => JSON.stringify(sorted(rest));
  return loads(a) === loads(b);
}

/** The database gives keys back in an order of its own. */
function sorted(value: unknown): unknown {
  if (typeof value !== 'object' || value === null) return value;
  return Object.fromEntries(
    Object.entries(value)
      .sort(([a], [b]) => (a < b ? -1 : 1))
      .map(([key, one]) => [key, sorted(one)]),
  );
}
