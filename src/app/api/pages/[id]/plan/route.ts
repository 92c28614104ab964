import { dropPlan, savePlan } from '@/store/proofs';
import { findPage } from '@/store/sites';
import { answer, orElse, readBody, readId } from '../../../answer';
import { PLAN } from '../../../schemas';

type Context = { params: Promise<{ id: string }> };

/** Saves the user's own plan: from then on it wins over the recommended one. */
export const PUT = (request: Request, { params }: Context) =>
  answer(async (database) => {
    const page = orElse(
      await findPage(database, readId((await params).id)),
      'There is no such page. It may have been deleted.',
    );
    const { rules, ...plan } = await readBody(request, PLAN);
    await savePlan(database, page.id, {
      ...plan,
      rules: rules.map(({ together, why, ...rule }) => ({
        ...rule,
        ...(together ? { together } : {}),
        ...(why ? { why } : {}),
      })),
    });
  });

/** Back to the recommended plan. */
export const DELETE = (_request: Request, { params }: Context) =>
  answer(async (database) => dropPlan(database, readId((await params).id)));
