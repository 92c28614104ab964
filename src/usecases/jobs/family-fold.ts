import { makeFamilyFold } from '../make-fold.ts';
import { jobKind, NO_INPUT, pageOf } from './kind.ts';

/** Makes and proves the fold CSS of all pages of a page's family. */
export const familyFold = jobKind({
  id: 'family-fold',
  doing: 'Fold CSS for the family of',
  called: 'Making the family’s fold CSS',
  refreshes: 'every page',
  startedFor: 'a page',
  input: NO_INPUT,
  async run(work) {
    return makeFamilyFold(work.database, await pageOf(work), (name) => work.carryFor(name));
  },
});
