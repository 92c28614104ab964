import { deletePage, movePage, renamePage, setFamilies } from '@/store/sites';
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

/** Renames a page, puts it in a family, or moves it in the order of importance. */
export const PATCH = (request: Request, { params }: Context) =>
  answer(async (database) => {
    const id = readId((await params).id);
    const { name, family, move } = await readBody(request, CHANGE_PAGE);
    if (name !== undefined) await renamePage(database, id, name);
    if (family !== undefined) await setFamilies(database, new Map([[id, family]]));
    if (move !== undefined) await movePage(database, id, move);
    return {};
  });

export const DELETE = (_request: Request, { params }: Context) =>
  answer(async (database) => deletePage(database, readId((await params).id)));
