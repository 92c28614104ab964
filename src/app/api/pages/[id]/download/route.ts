import { answer, orElse, readConditions, readId } from '../../../answer';

type Context = { params: Promise<{ id: string }> };

/** The hand-off as one archive. */
export const GET = (request: Request, { params }: Context) =>
  answer(async (database, read) => {
    const archive = orElse(
      await read('handoff archive', readId((await params).id), await readConditions(request, database)),
      'The page was not measured yet: there is nothing to hand off.',
    );
    return new Response(new Uint8Array(archive), {
      headers: {
        'content-type': 'application/zip',
        'content-disposition': 'attachment; filename="handoff.zip"',
      },
    });
  });
