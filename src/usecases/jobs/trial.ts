import { latestYardstick } from '../../store/conditions.ts';
import { foldMark } from '../fold-hash.ts';
import { keepTrial } from '../keep.ts';
import { jobKind, NO_INPUT } from './kind.ts';
import { rehearsedPage } from './replayed-page.ts';

/** Pairs of loads that a trial makes. */
export const PAIRS = 6;

/** Holds the page as treated against the page as authored, after rehearsing what was not. */
export const trial = jobKind({
  id: 'trial',
  doing: 'Trial of',
  called: 'The trial',
  refreshes: 'its page',
  startedFor: 'many pages',
  input: NO_INPUT,
  async run(work) {
    const { database, conditions, carry } = work;
    const { page, captureId, replayed, rehearsal, plan, own } = await rehearsedPage(work);
    const result = await carry({
      kind: 'trial',
      ...replayed,
      yardstick: await latestYardstick(database),
      plan,
      // What is excepted from the recommended plan is not in what is tried.
      rehearsal: own ? rehearsal : { ...rehearsal, exceptions: [], gaveUp: false },
      conditions,
      pairs: PAIRS,
    });
    const of = {
      captureId,
      plan,
      ownPlan: own,
      foldHash: foldMark(replayed.fold),
    };
    await keepTrial(database, page.id, of, result);
  },
});
