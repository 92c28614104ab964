import { deletePages, movePage, renamePage } from '@/store/sites';
import { answer, NO_SUCH_PAGE, orElse, readBody, readConditions, readId } from '../../answer';
import { CHANGE_PAGE } from '../../schemas';

type Context = { params: Promise<{ id: string }> };

export const GET = (request: Request, { params }: Context) =>
  answer(async (database, read) =>
    orElse(
      await read('page', readId((await params).id), await readConditions(request, database)),
      NO_SUCH_PAGE,
    ),
  );

/** Renames a page, or moves it in the order of importance. */
export const PATCH = (request: Request, { params }: Context) =>
  answer(async (database) => {
    const id = readId((await params).id);
    const { name, move } = await readBody(request, CHANGE_PAGE);
    if (name !== undefined) await renamePage(database, id, name);
    if (move !== undefined) await movePage(database, id, move);
    return {};
  });

export const DELETE = (_request: Request, { params }: Context) =>
  answer(async (database) => deletePages(database, [readId((await params).id)]));
