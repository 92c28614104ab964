import { answer, asDownload, orElse, readConditions, readId } from '../../../answer';

type Context = { params: Promise<{ id: string }> };

/** A page's map in one HTML file to share. */
export const GET = (request: Request, { params }: Context) =>
  answer(async (database, read) => {
    const id = readId((await params).id);
    const html = orElse(
      await read('report', id, await readConditions(request, database)),
      'The page was not measured yet: there is nothing to report.',
    );
    return asDownload(database, id, {
      what: 'report',
      extension: 'html',
      type: 'text/html; charset=utf-8',
      body: html,
    });
  });
