import { addressOf } from '@/core/field/field-figures';
import { forgetFieldFigures } from '@/store/field-figures';
import { findPage } from '@/store/sites';
import { answer, orElse, readId } from '../../../answer';

type Context = { params: Promise<{ id: string }> };

/** Forgets the figures of a page's visitors. */
export const DELETE = (_request: Request, { params }: Context) =>
  answer(async (database) => {
    const page = orElse(
      await findPage(database, readId((await params).id)),
      'There is no such page. It may have been deleted.',
    );
    await forgetFieldFigures(database, addressOf(page.url));
  });
