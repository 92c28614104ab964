import { deletePage, renamePage } from '@/store/sites';
import { pageView } from '@/usecases/views';
import { answer, orElse, readBody, readConditions, readId } from '../../answer';
import { RENAME } from '../../schemas';

type Context = { params: Promise<{ id: string }> };

export const GET = (request: Request, { params }: Context) =>
  answer(async (database) =>
    orElse(
      await pageView(database, readId((await params).id), readConditions(request)),
      'There is no such page. It may have been deleted.',
    ),
  );

export const PATCH = (request: Request, { params }: Context) =>
  answer(async (database) =>
    renamePage(database, readId((await params).id), (await readBody(request, RENAME)).name),
  );

export const DELETE = (_request: Request, { params }: Context) =>
  answer(async (database) => deletePage(database, readId((await params).id)));
