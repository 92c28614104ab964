import { keepDecisions } from '@/usecases/page-decisions';
import { answer, orElse, readBody, readConditions, readPage } from '../../../answer';
import { EXCEPTION } from '../../../schemas';

type Context = { params: Promise<{ id: string }> };

/** Excepts a rule that a trial found at fault: the page's plan has the strongest treatment left of it, as a decision. */
export const POST = (request: Request, { params }: Context) =>
  answer(async (database, read) => {
    const page = await readPage(database, params);
    const conditionsId = await readConditions(request, database);
    const { ruleId, why } = await readBody(request, EXCEPTION);
    const { plan, now, sentence } = orElse(
      await read('plan excepting', page.id, conditionsId, ruleId, why),
      'The plan has no such rule that acts any more: it was changed since that trial. Nothing stored was changed. Run the trial again.',
    );
    await database.transaction((queries) => keepDecisions(queries, page.id, plan, now));
    return { sentence };
  });
