import { aheadRules } from '../../core/next/ahead.ts';
import type { Plan } from '../../core/treat/plan.ts';
import { Trouble } from '../../engine/errors.ts';
import { ownChecksOf } from '../../store/own-checks.ts';
import type { Page } from '../../store/sites.ts';
import { rehearsed, type Rehearsable } from '../rehearsal.ts';
import { measuredPage } from '../stored-page.ts';
import { pageOf, type Work } from './kind.ts';

/** A measured page with what replaying it takes. */
export interface ReplayedPage {
  page: Page;
  captureId: number;
  /** Its plan before anything is excepted from it. */
  start: Plan;
  /** Its plan now. */
  plan: Plan;
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
  const { start, plan, fold } = now;
  const asksAhead = [start, plan].some((one) => aheadRules(one).length);
  const next = asksAhead ? await read('next pages', page.id, conditions.id) : null;
  return {
    page,
    captureId,
    start,
    plan,
    replayed: {
      pageName: page.name,
      capture,
      bodies,
      state,
      requests,
      fold,
      next: next ?? { assets: now.next, answers: [] },
      checks: await ownChecksOf(database, page.id),
    },
  };
}

/** The same with the plan that is tried, once that was rehearsed. */
export async function rehearsedPage(work: Work) {
  const of = await replayedPage(work);
  const { page, start, replayed } = of;
  // What is proved is what was rehearsed: the kept one, where there is one.
  const rehearsal = await rehearsed(work.database, { pageId: page.id, ...replayed }, start, work.carry);
  const { plan, own, decided } = (await work.read('plan', page.id, work.conditions.id))!;
  return { ...of, rehearsal, plan, own, decided };
}
