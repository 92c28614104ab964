import { findFault } from '../../core/rehearse/find-fault.ts';
import { TREATED } from '../../core/trial/arms.ts';
import { breaksLikewise, kindsToFind, type AtFault, type SeenWithSome } from '../../core/trial/at-fault.ts';
import type { Yardstick } from '../../core/measure/yardstick.ts';
import type { Break, BreakKind } from '../../core/trial/breaks.ts';
import { answeredLater } from '../../core/trial/tap-answers.ts';
import type { TrialChecks } from '../../core/trial/verdict.ts';
import type { TreatedPage } from '../../core/treat/apply.ts';
import type { PlanRule } from '../../core/treat/plan.ts';
import { stopIfCancelled } from '../errors.ts';
import { Lab } from '../lab/lab.ts';
import type { TimedVisits } from '../load/timed-load.ts';
import { armsOf } from './arm-files.ts';
import { askedIn, errorsOf, takenOutBy, type Held } from './conclude-trial.ts';
import { tapChecks } from './tap-checks.ts';
import type { PlanParts, TrialRequest } from './trial.ts';

/** Beyond this no further part of a plan is tried. */
const LIMIT_MS = 300_000;
/** So often the page is loaded with some of the rules: what one load shows by chance the other does not. */
const LOADS = 2;

class OutOfTime extends Error {}

/** What a trial's pairs have shown, and what they were held with. */
export interface Broken {
  request: TrialRequest;
  held: Pick<Held, 'runs' | 'possible'> & { setting: { windowMs: number; yardstick: Yardstick | null } };
  checks: TrialChecks;
  result: { breaks: readonly Break[] };
}

/**
 * Finds for each way in which a trial's page breaks the rule that does it: the page is loaded with ever fewer of the
 * plan's rules, under the same conditions and on the same kind of visit, as long as it breaks likewise.
 *
 * @param here under the trial's conditions
 * @param there on the other kind of device: how it breaks there alone is looked for there; null where that was not tried
 */
export async function findAtFault(here: Broken, there: Broken | null): Promise<AtFault[]> {
  const { parts } = here.request;
  if (!parts) return [];
  const ends = performance.now() + LIMIT_MS;
  const kinds = kindsToFind(here.result.breaks);
  const thereOnly = there ? kindsToFind(there.result.breaks).filter((kind) => !kinds.includes(kind)) : [];
  const wanted = [
    ...kinds.map((kind) => ({ kind, broken: here, onOther: false })),
    ...thereOnly.map((kind) => ({ kind, broken: there ?? here, onOther: true })),
  ];
  const search = new Search(parts, wanted.length, ends);
  const found: AtFault[] = [];
  for (const { kind, broken, onOther } of wanted)
    found.push({ ...(await search.find(broken, kind)), onOther });
  return found;
}

class Search {
  #parts: PlanParts;
  #ends: number;
  /** How many parts of the plan are to be tried, where each break has one rule at fault; two may need more. */
  #expected: number;
  #tried = 0;

  constructor(parts: PlanParts, searches: number, ends: number) {
    this.#parts = parts;
    this.#ends = ends;
    // Of each halving both halves at most, and once all but the rule that was found.
    this.#expected = searches * (2 * Math.ceil(Math.log2(parts.rules.length)) + 1);
  }

  async find(broken: Broken, kind: BreakKind): Promise<Omit<AtFault, 'onOther'>> {
    const { rules } = this.#parts;
    try {
      const rule = await findFault(rules, [], (some) => this.#breaks(broken, kind, some));
      const others = rules.filter((one) => one !== rule);
      const goneWithout = rule !== null && !(await this.#breaks(broken, kind, others));
      return { kind, ruleId: rule?.id ?? null, goneWithout };
    } catch (error) {
      if (!(error instanceof OutOfTime)) throw error;
      return { kind, ruleId: null, goneWithout: false };
    }
  }

  /** Whether the page with some of the rules breaks as with all of them. */
  async #breaks(broken: Broken, kind: BreakKind, some: readonly PlanRule[]): Promise<boolean> {
    const { request, held, checks } = broken;
    stopIfCancelled(request.signal);
    if (performance.now() > this.#ends) throw new OutOfTime();
    const of = Math.max(this.#expected, this.#tried + 1);
    request.onProgress?.('Looking for the rule that breaks it, with ever fewer rules', this.#tried++, of);
    const asIs = askedIn(held.runs.map((run) => run.asIs));
    return breaksLikewise(kind, checks, asIs, await seenWith(broken, this.#parts.treatedWith(some), kind));
  }
}

function seenWith(
  { request, held: { setting, possible, runs }, checks }: Broken,
  page: TreatedPage,
  kind: BreakKind,
): Promise<SeenWithSome> {
  const { windowMs, yardstick } = setting;
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
    const wantReturnVisit = request.visit === 'return';
    const visits: TimedVisits[] = [];
    while (visits.length < LOADS)
      visits.push(await lab.load(TREATED, { windowMs, wantFinalPicture: true, wantReturnVisit }));
    const loads = visits.map(({ first, returning }) => returning ?? first);
    return {
      // A trial of return visits hears first ones as well, before its pairs.
      consoleErrors: errorsOf([...visits.map(({ first }) => first), ...loads]),
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
