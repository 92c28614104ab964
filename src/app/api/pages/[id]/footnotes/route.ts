import { addFootnote } from '@/store/footnotes';
import { answer, readBody, readPage } from '../../../answer';
import { FOOTNOTE } from '../../../schemas';

type Context = { params: Promise<{ id: string }> };

/** Leaves a footnote on a page's map. */
export const POST = (request: Request, { params }: Context) =>
  answer(async (database) => {
    const { id } = await readPage(database, params);
    return { number: await addFootnote(database, id, await readBody(request, FOOTNOTE)) };
  });
