import { dropDecision, sparePages } from '@/store/decisions';
import { answer, orElse, readBody, readId } from '../../answer';
import { SPARED_PAGES } from '../../schemas';

type Context = { params: Promise<{ id: string }> };

const GONE = 'There is no such decision. It may have been taken back.';

/** Changes which pages a decision leaves alone. */
export const PATCH = (request: Request, { params }: Context) =>
  answer(async (database) => {
    const id = readId((await params).id);
    const { spared } = await readBody(request, SPARED_PAGES);
    orElse((await database.transaction((queries) => sparePages(queries, id, spared))) || null, GONE);
  });

/** Takes a decision back. */
export const DELETE = (_request: Request, { params }: Context) =>
  answer(async (database) => {
    const id = readId((await params).id);
    orElse((await database.transaction((queries) => dropDecision(queries, id))) || null, GONE);
  });
