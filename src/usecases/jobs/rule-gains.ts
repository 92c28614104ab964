import { latestYardstick } from '../../store/conditions.ts';
import { keepRuleGains } from '../../store/rule-gains.ts';
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
    const { gains } = await carry({
      kind: 'rule-gains',
      ...replayed,
      yardstick: await latestYardstick(database),
      plan,
      conditions,
      waitedMs: (await read('waited', page.id, conditions.id))!,
      rounds: ROUNDS,
    });
    const of = { captureId, plan, foldHash: foldMark(replayed.fold), conditions };
    return { keep: (queries) => keepRuleGains(queries, page.id, of, gains) };
  },
});
