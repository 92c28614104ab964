import { answer, asDownload, orElse, readConditions, readId } from '../../../answer';

type Context = { params: Promise<{ id: string }> };

/** A page's capture as HAR 1.2. Cookies and authorisation are redacted unless `secrets=keep`. */
export const GET = (request: Request, { params }: Context) =>
  answer(async (database, read) => {
    const id = readId((await params).id);
    const keep = new URL(request.url).searchParams.get('secrets') === 'keep';
    const har = orElse(
      await read('har', id, await readConditions(request, database), keep),
      'The page was not measured under these conditions yet: there is nothing to write.',
    );
    return asDownload(database, id, {
      what: 'capture',
      extension: 'har',
      type: 'application/json',
      body: har,
    });
  });
