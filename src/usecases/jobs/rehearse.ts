import { rehearsed } from '../rehearsal.ts';
import { jobKind, NO_INPUT } from './kind.ts';
import { replayedPage } from './replayed-page.ts';

/** Rehearses a page's plan, unless the very same was rehearsed before. */
export const rehearse = jobKind({
  id: 'rehearse',
  doing: 'Rehearsing',
  called: 'Rehearsing',
  refreshes: 'its page',
  startedFor: 'many pages',
  input: NO_INPUT,
  async run(work) {
    const { page, start, replayed } = await replayedPage(work);
    // What rehearsing showed is kept as it ends: whatever asks for the same finds it.
    await rehearsed(work.database, { pageId: page.id, ...replayed }, start, work.carry);
    return null;
  },
});
