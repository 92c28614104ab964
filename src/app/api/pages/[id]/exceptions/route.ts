import { findPage } from '@/store/sites';
import { keepDecisions } from '@/usecases/page-decisions';
import { answer, orElse, readBody, readConditions, readId } from '../../../answer';
import { EXCEPTION } from '../../../schemas';

type Context = { params: Promise<{ id: string }> };

/** Excepts a rule that a trial found at fault: the page's plan has the strongest treatment left of it, as a decision. */
export const POST = (request: Request, { params }: Context) =>
  answer(async (database, read) => {
    const page = orElse(
      await findPage(database, readId((await params).id)),
      'There is no such page. It may have been deleted.',
    );
    const conditionsId = await readConditions(request, database);
    const { ruleId, why } = await readBody(request, EXCEPTION);
    const { plan, now, sentence } = orElse(
      await read('plan excepting', page.id, conditionsId, ruleId, why),
      'The plan has no such rule that acts any more: it was changed since that trial. Nothing stored was changed. Run the trial again.',
    );
    await database.transaction((queries) => keepDecisions(queries, page.id, plan, now));
    return { sentence };
  });
