import { acceptFold } from '@/store/proofs';
import { answer, orElse, readBody, readId } from '../../../answer';
import { FOLD_ACCEPTANCE } from '../../../schemas';

type Context = { params: Promise<{ id: string }> };

/** Decides that the newest set is used although it is not proved, or takes that back. */
export const PUT = (request: Request, { params }: Context) =>
  answer(async (database) => {
    const id = readId((await params).id);
    const { accepted } = await readBody(request, FOLD_ACCEPTANCE);
    orElse((await acceptFold(database, id, accepted)) || null, 'There is no fold CSS of this page yet.');
    return { accepted };
  });
