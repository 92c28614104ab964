import { answersOfFamily, makeFold } from '../make-fold.ts';
import { jobKind, NO_INPUT, pageOf } from './kind.ts';

/** Makes and proves the fold CSS of a page. */
export const fold = jobKind({
  id: 'fold',
  doing: 'Fold CSS for',
  called: 'Making fold CSS',
  refreshes: 'its page',
  startedFor: 'many pages',
  input: NO_INPUT,
  async run(work) {
    const page = await pageOf(work);
    return makeFold(work.database, page, work.carry, await answersOfFamily(work.database, page));
  },
});
