import { answer, asDownload, orElse, readConditions, readId } from '../../../answer';

type Context = { params: Promise<{ id: string }> };

/** The hand-off as one archive. */
export const GET = (request: Request, { params }: Context) =>
  answer(async (database, read) => {
    const id = readId((await params).id);
    const archive = orElse(
      await read('handoff archive', id, await readConditions(request, database)),
      'The page was not measured yet: there is nothing to hand off.',
    );
    return asDownload(database, id, {
      what: 'handoff',
      extension: 'zip',
      type: 'application/zip',
      body: new Uint8Array(archive),
    });
  });
