import { answer, orElse, readConditions, readId } from '../../../answer';

type Context = { params: Promise<{ id: string }> };

/** A page's map in one HTML file to share. */
export const GET = (request: Request, { params }: Context) =>
  answer(async (database, read) => {
    const html = orElse(
      await read('report', readId((await params).id), await readConditions(request, database)),
      'The page was not measured yet: there is nothing to report.',
    );
    return new Response(html, {
      headers: {
        'content-type': 'text/html; charset=utf-8',
        'content-disposition': 'attachment; filename="report.html"',
      },
    });
  });
