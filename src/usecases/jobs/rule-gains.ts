import { createHash } from 'node:crypto';
import { planFingerprint } from '../../core/treat/plan.ts';
import { latestYardstick } from '../../store/conditions.ts';
import { keepRuleGains, type RuleGainsProvenance } from '../../store/rule-gains.ts';
import { dropRounds, keepRound, roundsSoFar } from '../../store/rounds.ts';
import { foldMark } from '../fold-hash.ts';
import { jobKind, NO_INPUT } from './kind.ts';
import { rehearsedPage } from './replayed-page.ts';

/** How often every step is loaded: as few as an interval can be given for. */
export const ROUNDS = 6;

/** Measures what each rule of the page's plan gains, put in one after the other, once the plan is rehearsed. */
export const ruleGains = jobKind({
  id: 'rule-gains',
  doing: 'Rule by rule on',
  called: 'Rule by rule',
  refreshes: 'its page',
  startedFor: 'many pages',
  input: NO_INPUT,
  async run(work) {
    const { database, conditions, carry, read } = work;
    const { page, captureId, replayed, plan } = await rehearsedPage(work);
    const of = { captureId, plan, foldHash: foldMark(replayed.fold), conditions };
    const waitedMs = (await read('waited', page.id, conditions.id))!;
    const rounds = { pageId: page.id, conditionsId: conditions.id, basis: basisOf(of, waitedMs) };
    const { gains } = await carry(
      {
        kind: 'rule-gains',
        ...replayed,
        yardstick: await latestYardstick(database),
        plan,
        conditions,
        waitedMs,
        rounds: ROUNDS,
        before: await roundsSoFar(database, rounds),
      },
      // A round that could not be kept is taken again, if it ever comes to that.
      (soFar) => {
        if (soFar.kind !== 'round') return;
        const keep = database.transaction((queries) => keepRound(queries, rounds, soFar.metrics));
        void keep.catch(() => undefined);
      },
    );
    return {
      async keep(queries) {
        await keepRuleGains(queries, page.id, of, gains);
        await dropRounds(queries, rounds);
      },
    };
  },
});

/** All that the steps and their loads come of, as a hash. */
function basisOf(
  { captureId, plan, foldHash, conditions }: RuleGainsProvenance,
  waitedMs: ReadonlyMap<string, number>,
): string {
  const of = [captureId, planFingerprint(plan), foldHash, conditions, [...waitedMs].sort()];
  return createHash('sha256').update(JSON.stringify(of)).digest('hex');
}
