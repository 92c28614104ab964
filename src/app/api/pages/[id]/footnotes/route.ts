import { addFootnote } from '@/store/footnotes';
import { findPage } from '@/store/sites';
import { answer, orElse, readBody, readId } from '../../../answer';
import { FOOTNOTE } from '../../../schemas';

type Context = { params: Promise<{ id: string }> };

/** Leaves a footnote on a page's map. */
export const POST = (request: Request, { params }: Context) =>
  answer(async (database) => {
    const id = readId((await params).id);
    orElse(await findPage(database, id), 'There is no such page. It may have been deleted.');
    return { number: await addFootnote(database, id, await readBody(request, FOOTNOTE)) };
  });
