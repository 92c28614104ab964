import { decide, decisionsFor } from '@/store/decisions';
import { keepDecisions } from '@/usecases/page-decisions';
import { answer, asDownload, readBody, readConditions, readPage, Refusal } from '../../../answer';
import { WIDE_DECISION } from '../../../schemas';

type Context = { params: Promise<{ id: string }> };

/** Decides something for the page's family, or its whole site. */
export const POST = (request: Request, { params }: Context) =>
  answer(async (database, read) => {
    const page = await readPage(database, params);
    const conditionsId = await readConditions(request, database);
    const { scope, ...decision } = await readBody(request, WIDE_DECISION);
    if (scope === 'family' && !page.family)
      throw new Refusal(
        400,
        'This page is of no family: give it one on the board, or decide for the whole site.',
      );
    const family = scope === 'family' ? page.family : null;
    await database.transaction((queries) => decide(queries, page.id, { ...decision, family }));
    const now = await read('plan', page.id, conditionsId);
    // What is now decided for all is no longer decided for this page.
    if (now?.own)
      await database.transaction((queries) =>
        keepDecisions(queries, page.id, now.plan, { ...now, decided: [] }),
      );
  });

/** What was decided for the page's family and site, as a file. */
export const GET = (_request: Request, { params }: Context) =>
  answer(async (database) => {
    const page = await readPage(database, params);
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
