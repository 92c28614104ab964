import { answer, asDownload, orElse, readConditions, readId, readTarget } from '../../../answer';

type Context = { params: Promise<{ id: string }> };

/** The asset table as CSV. */
export const GET = (request: Request, { params }: Context) =>
  answer(async (database, read) => {
    const id = readId((await params).id);
    const conditions = await readConditions(request, database);
    const table = orElse(
      await read('asset table', id, conditions, readTarget(request)),
      'The page was not measured yet: there is nothing to write.',
    );
    return asDownload(database, id, {
      what: 'assets',
      extension: 'csv',
      type: 'text/csv; charset=utf-8',
      body: table,
    });
  });
