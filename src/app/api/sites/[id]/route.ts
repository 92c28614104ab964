import { deleteSite, renameSite } from '@/store/sites';
import { answer, readBody, readId } from '../../answer';
import { RENAME } from '../../schemas';

type Context = { params: Promise<{ id: string }> };

export const PATCH = (request: Request, { params }: Context) =>
  answer(async (database) =>
    renameSite(database, readId((await params).id), (await readBody(request, RENAME)).name),
  );

export const DELETE = (_request: Request, { params }: Context) =>
  answer(async (database) => deleteSite(database, readId((await params).id)));
