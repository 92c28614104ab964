import { answer, orElse, readConditions, readId } from '../../../answer';

type Context = { params: Promise<{ id: string }> };

/** One asset of a page, looked at closely. */
export const GET = (request: Request, { params }: Context) =>
  answer(async (database, read) => {
    const url = new URL(request.url).searchParams.get('url') ?? '';
    const view = await read('asset', readId((await params).id), await readConditions(request, database), url);
    return orElse(view, 'The capture holds no such asset.');
  });
