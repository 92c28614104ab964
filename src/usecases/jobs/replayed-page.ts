import type { Plan } from '../../core/treat/plan.ts';
import { Trouble } from '../../engine/errors.ts';
import type { Page } from '../../store/sites.ts';
import type { Rehearsable } from '../rehearsal.ts';
import { measuredPage } from '../stored-page.ts';
import { pageOf, type Work } from './kind.ts';

/** A measured page with what replaying it takes. */
export interface ReplayedPage {
  page: Page;
  captureId: number;
  /** Its plan before anything is excepted from it. */
  start: Plan;
  replayed: Omit<Rehearsable, 'pageId'>;
}

/** @throws Trouble when it was not measured under the conditions */
export async function replayedPage(work: Work): Promise<ReplayedPage> {
  const { database, conditions, read } = work;
  const page = await pageOf(work);
  const measured = await measuredPage(database, page.id, conditions.id);
  const now = measured && (await read('plan', page.id, conditions.id));
  if (!now)
    throw new Trouble(
      'input',
      `The page was not measured under ${conditions.name}. Measure it first: its capture is what is replayed.`,
    );
  const { captureId, capture, bodies, state, requests } = measured;
  const { start, fold } = now;
  return {
    page,
    captureId,
    start,
    replayed: { pageName: page.name, capture, bodies, state, requests, fold },
  };
}
