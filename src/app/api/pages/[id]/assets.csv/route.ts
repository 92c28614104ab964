import { answer, orElse, readConditions, readId, readTarget } from '../../../answer';

type Context = { params: Promise<{ id: string }> };

/** The asset table as CSV. */
export const GET = (request: Request, { params }: Context) =>
  answer(async (database, read) => {
    const conditions = await readConditions(request, database);
    const table = orElse(
      await read('asset table', readId((await params).id), conditions, readTarget(request)),
      'The page was not measured yet: there is nothing to write.',
    );
    return new Response(table, {
      headers: {
        'content-type': 'text/csv; charset=utf-8',
        'content-disposition': 'attachment; filename="assets.csv"',
      },
    });
  });
