import { answer, orElse, readConditions, readId } from '../../../../answer';

type Context = { params: Promise<{ id: string }> };

/** A picture of a page as it was captured. It may be anybody's: nothing in it may run or be taken for something else. */
export const GET = (request: Request, { params }: Context) =>
  answer(async (database, read) => {
    const url = new URL(request.url).searchParams.get('url') ?? '';
    const picture = orElse(
      await read('picture', readId((await params).id), await readConditions(request, database), url),
      'The capture holds no such picture.',
    );
    return new Response(new Uint8Array(picture.bytes), {
      headers: {
        'content-type': picture.mimeType,
        'content-security-policy': "default-src 'none'; style-src 'unsafe-inline'; sandbox",
        'x-content-type-options': 'nosniff',
      },
    });
  });
