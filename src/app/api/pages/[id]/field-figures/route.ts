import { addressOf } from '@/core/field/field-figures';
import { forgetFieldFigures } from '@/store/field-figures';
import { answer, readPage } from '../../../answer';

type Context = { params: Promise<{ id: string }> };

/** Forgets the figures of a page's visitors. */
export const DELETE = (_request: Request, { params }: Context) =>
  answer(async (database) => {
    const page = await readPage(database, params);
    await forgetFieldFigures(database, addressOf(page.url));
  });
