import * as v from 'valibot';
import { AS_IS, TREATED } from '@/core/trial/arms';
import { openPreview } from '@/usecases/preview';
import { answer, orElse, readBody, readConditions, readId } from '../../../answer';

type Context = { params: Promise<{ id: string }> };

/** Serves an arm of the page on an origin of its own, for clicking through. */
export const POST = (request: Request, { params }: Context) =>
  answer(async (database, read) => {
    const { arm } = await readBody(request, v.object({ arm: v.picklist([AS_IS, TREATED]) }));
    const url = await openPreview(
      read,
      readId((await params).id),
      await readConditions(request, database),
      arm,
    );
    return { url: orElse(url, 'The page was not measured yet: there is nothing to open.') };
  });
