import { dropPageDecisions } from '@/store/proofs';
import { keepDecisions } from '@/usecases/page-decisions';
import { answer, orElse, readBody, readConditions, readId, readPage } from '../../../answer';
import { DECIDED_PLAN } from '../../../schemas';

type Context = { params: Promise<{ id: string }> };

/** Keeps what a plan decides over the recommended one: that which it was decided over, where it says so, else that of now. */
export const PUT = (request: Request, { params }: Context) =>
  answer(async (database, read) => {
    const page = await readPage(database, params);
    const conditionsId = await readConditions(request, database);
    const { over, ...plan } = await readBody(request, DECIDED_PLAN);
    const now = orElse(
      await read('plan', page.id, conditionsId),
      'The page was not measured yet. Measure it first: a plan is made from its capture.',
    );
    await database.transaction((queries) =>
      keepDecisions(queries, page.id, plan, { ...now, recommended: over ?? now.recommended }),
    );
  });

/** Back to the recommended plan. */
export const DELETE = (_request: Request, { params }: Context) =>
  answer(async (database) => dropPageDecisions(database, readId((await params).id)));
