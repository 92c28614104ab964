import { changeFootnote, deleteFootnote } from '@/store/footnotes';
import { answer, readBody, readId } from '../../answer';
import { FOOTNOTE_TEXT } from '../../schemas';

type Context = { params: Promise<{ id: string }> };

export const PATCH = (request: Request, { params }: Context) =>
  answer(async (database) =>
    changeFootnote(database, readId((await params).id), (await readBody(request, FOOTNOTE_TEXT)).text),
  );

export const DELETE = (_request: Request, { params }: Context) =>
  answer(async (database) => deleteFootnote(database, readId((await params).id)));
