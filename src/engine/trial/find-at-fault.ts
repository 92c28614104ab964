import { findFault } from '../../core/rehearse/find-fault.ts';
import { TREATED } from '../../core/trial/arms.ts';
import { breaksLikewise, type AtFault, type SeenWithSome } from '../../core/trial/at-fault.ts';
import type { BreakKind } from '../../core/trial/breaks.ts';
import { answeredLater } from '../../core/trial/tap-answers.ts';
import type { TrialChecks } from '../../core/trial/verdict.ts';
import type { TreatedPage } from '../../core/treat/apply.ts';
import type { PlanRule } from '../../core/treat/plan.ts';
import { stopIfCancelled } from '../errors.ts';
import { Lab } from '../lab/lab.ts';
import { armsOf } from './arm-files.ts';
import { askedIn, errorsOf, takenOutBy, type Held } from './conclude-trial.ts';
import { tapChecks } from './tap-checks.ts';
import type { PlanParts, TrialRequest } from './trial.ts';

/** Beyond this no further part of a plan is tried. */
const LIMIT_MS = 300_000;
/** So often the page is loaded with some of the rules: what one load shows by chance the other does not. */
const LOADS = 2;

class OutOfTime extends Error {}

/**
 * Finds for each way in which a trial's page breaks the rule that does it: the page is loaded with ever fewer of the
 * plan's rules, under the same conditions, as long as it breaks likewise.
 *
 * @param kinds what is looked for, the first first
 */
export async function findAtFault(
  request: TrialRequest,
  { rules, treatedWith }: PlanParts,
  held: Held,
  checks: TrialChecks,
  kinds: readonly BreakKind[],
): Promise<AtFault[]> {
  const ends = performance.now() + LIMIT_MS;
  const asIs = askedIn(held.runs.map((run) => run.asIs));
  let tried = 0;
  const breaks = async (kind: BreakKind, some: readonly PlanRule[]): Promise<boolean> => {
    stopIfCancelled(request.signal);
    if (performance.now() > ends) throw new OutOfTime();
    request.onProgress?.(`Looking for the rule that breaks it: part ${++tried} of the plan`, 99, 100);
    return breaksLikewise(kind, checks, asIs, await seenWith(request, held, checks, treatedWith(some), kind));
  };
  const found: AtFault[] = [];
  for (const kind of kinds) {
    try {
      const rule = await findFault(rules, [], (some) => breaks(kind, some));
      const others = rules.filter((one) => one !== rule);
      const goneWithout = rule !== null && !(await breaks(kind, others));
      found.push({ kind, ruleId: rule?.id ?? null, goneWithout });
    } catch (error) {
      if (!(error instanceof OutOfTime)) throw error;
      found.push({ kind, ruleId: null, goneWithout: false });
    }
  }
  return found;
}

function seenWith(
  request: TrialRequest,
  { setting: { windowMs, yardstick }, possible, runs }: Held,
  checks: TrialChecks,
  page: TreatedPage,
  kind: BreakKind,
): Promise<SeenWithSome> {
  const arms = armsOf({ ...request, treated: page, beside: [] });
  return Lab.with({ ...request, yardstick, arms }, async (lab) => {
    if (kind === 'late-answers')
      return {
        ...NOTHING_SEEN,
        taps: await tapChecks(lab, {
          found: possible,
          only: answeredLater(checks.taps).map(({ words }) => words),
          touch: request.conditions.touch,
          windowMs,
          ...(request.signal ? { signal: request.signal } : {}),
        }),
      };
    const loads = [];
    while (loads.length < LOADS)
      loads.push((await lab.load(TREATED, { windowMs, wantFinalPicture: true })).first);
    return {
      consoleErrors: errorsOf(loads),
      asked: askedIn(loads),
      takenOut: takenOutBy(
        page,
        runs.map((run) => run.asIs),
      ),
      redrawn: loads.map(({ redrawn }) => redrawn),
      taps: [],
    };
  });
}

const NOTHING_SEEN: SeenWithSome = { consoleErrors: [], asked: [], takenOut: [], redrawn: [], taps: [] };
