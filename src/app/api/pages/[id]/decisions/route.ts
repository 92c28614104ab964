import { ownDecisions } from '@/core/treat/decisions';
import type { OwnDecision } from '@/core/words/own-decision';
import { effectOf } from '@/core/treat/plan';
import { sameMatch, type Plan } from '@/core/treat/plan';
import { decide, decisionsFor } from '@/store/decisions';
import { dropPlan } from '@/store/proofs';
import { findPage } from '@/store/sites';
import { answer, asDownload, orElse, readBody, readConditions, readId, Refusal } from '../../../answer';
import { WIDE_DECISION } from '../../../schemas';

type Context = { params: Promise<{ id: string }> };

const NO_PAGE = 'There is no such page. It may have been deleted.';

/** Decides something for the page's family, or its whole site. */
export const POST = (request: Request, { params }: Context) =>
  answer(async (database, read) => {
    const page = orElse(await findPage(database, readId((await params).id)), NO_PAGE);
    const conditionsId = await readConditions(request, database);
    const { scope, ...decision } = await readBody(request, WIDE_DECISION);
    if (scope === 'family' && !page.family)
      throw new Refusal(
        400,
        'This page is of no family: give it one on the board, or decide for the whole site.',
      );
    const family = scope === 'family' ? page.family : null;
    const before = await read('plan', page.id, conditionsId);
    await database.transaction((queries) => decide(queries, page.id, { ...decision, family }));
    const after = before?.own ? await read('plan', page.id, conditionsId) : null;
    // A plan of one's own that says nothing more than what is now decided for all is no longer one's own.
    if (
      before &&
      after &&
      isContained(ownDecisions(before.plan, before.recommended), before.plan, after.recommended)
    )
      await dropPlan(database, page.id);
  });

/** Whether each of some decisions is what is recommended now. */
function isContained(decisions: readonly OwnDecision[], own: Plan, recommended: Plan): boolean {
  const effectIn = ({ rules }: Plan, { match }: OwnDecision) => {
    const rule = rules.find((one) => sameMatch(one.match, match));
    return rule ? effectOf(rule) : 'as-authored';
  };
  return decisions.every((one) => effectIn(own, one) === effectIn(recommended, one));
}

/** What was decided for the page's family and site, as a file. */
export const GET = (_request: Request, { params }: Context) =>
  answer(async (database) => {
    const page = orElse(await findPage(database, readId((await params).id)), NO_PAGE);
    const decisions = await decisionsFor(database, page.id);
    const file = {
      wistrelDecisions: 1,
      decisions: decisions.map(({ id: _id, ...decision }) => decision),
    };
    return asDownload(database, page.id, {
      what: 'decisions',
      extension: 'json',
      type: 'application/json',
      body: `${JSON.stringify(file, null, 2)}\n`,
    });
  });
