import * as v from 'valibot';
import { aheadRules, askingAhead } from '../../core/next/ahead.ts';
import { NAVIGATION_PAIRS } from '../../core/next/navigation.ts';
import { Trouble } from '../../engine/errors.ts';
import { bodiesOf, capturedNeighbours, findCapture } from '../../store/captures.ts';
import { latestYardstick } from '../../store/conditions.ts';
import { keepNavigation } from '../../store/navigations.ts';
import { isRehearsed } from '../next-view.ts';
import { foldMark } from '../fold-hash.ts';
import { measuredPage } from '../stored-page.ts';
import { jobKind, type Work } from './kind.ts';
import { replayedPage } from './replayed-page.ts';

/** Goes from a page to one that it links to, with and without what its plan asks for ahead. */
export const navigation = jobKind({
  id: 'navigation',
  doing: 'Going on from',
  called: 'Going on to the next page',
  refreshes: 'its page',
  startedFor: 'itself',
  input: v.object({ toPageId: v.number() }),
  async run(work, { toPageId }) {
    const { database, conditions, carry, read } = work;
    const { page, captureId, replayed, plan } = await replayedPage(work);
    const to = (await capturedNeighbours(database, page.id)).find((one) => one.pageId === toPageId);
    const stored = to && (await findCapture(database, to.captureId));
    if (!stored)
      throw new Trouble(
        'input',
        'The page to go to is not measured any more. Measure it, and try again. Nothing stored was changed.',
      );
    const ahead = askingAhead(plan);
    if (aheadRules(ahead).length === 0)
      throw new Trouble(
        'input',
        `Nothing of what ${to.name} needs may be asked for ahead: Treat says why, of each. Nothing stored was changed.`,
      );
    const own = await rehearsedNext(work, toPageId, to.captureId);
    const bytes = own ?? { capture: stored.capture, bodies: await bodiesOf(database, to.captureId) };
    const order = {
      ...replayed,
      yardstick: await latestYardstick(database),
      plan: ahead,
      next: (await read('next pages', page.id, conditions.id))!,
      conditions,
      to: { name: to.name, ...bytes, planned: own?.planned ?? null },
      pairs: NAVIGATION_PAIRS,
    };
    const { navigation: found } = await carry({ kind: 'navigation', ...order });
    const of = {
      captureId,
      toPageId,
      toCaptureId: to.captureId,
      plan: ahead,
      foldHash: foldMark(replayed.fold),
      conditions,
      toPlan: own?.planned.plan ?? null,
      toFoldHash: foldMark(own?.planned.fold ?? null),
    };
    return { keep: (queries) => keepNavigation(queries, page.id, of, found) };
  },
});

/** The next page with its own plan, where that is rehearsed: what may break it is not timed. */
async function rehearsedNext({ database, conditions, read }: Work, pageId: number, captureId: number) {
  const measured = await measuredPage(database, pageId, conditions.id);
  if (measured?.captureId !== captureId) return null;
  const now = await read('plan', pageId, conditions.id);
  if (!isRehearsed(now)) return null;
  const { capture, bodies, requests } = measured;
  const next = { assets: now.next, answers: [] };
  return { capture, bodies, planned: { requests, plan: now.plan, fold: now.fold, next } };
}
