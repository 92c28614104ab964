import { decisionsIn, ownDecisions, withPageDecisions } from '@/core/treat/decisions';
import { differenceSentence } from '@/core/words/own-decision';
import { answer, orElse, readBody, readConditions, readPage } from '../../../../answer';
import { PLAN } from '../../../../schemas';

type Context = { params: Promise<{ id: string }> };

/** Where another plan differs from the page's, each as a sentence; nothing is stored. */
export const POST = (request: Request, { params }: Context) =>
  answer(async (database, read) => {
    const page = await readPage(database, params);
    const conditionsId = await readConditions(request, database);
    const other = await readBody(request, PLAN);
    const { plan, recommended } = orElse(
      await read('plan', page.id, conditionsId),
      'The page was not measured yet. Measure it first: a plan is made from its capture.',
    );
    const there = withPageDecisions(recommended, decisionsIn(other, recommended, []).rules);
    return { page: other.page, differences: ownDecisions(there, plan).map(differenceSentence) };
  });
