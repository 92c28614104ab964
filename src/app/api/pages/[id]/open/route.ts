import * as v from 'valibot';
import { AS_IS, TREATED } from '@/core/trial/arms';
import { openPreview } from '@/usecases/preview';
import { answer, orElse, readBody, readConditions, readId } from '../../../answer';

type Context = { params: Promise<{ id: string }> };

/** Serves an arm of the page on an origin of its own, for clicking through, or for recording a check by that. */
export const POST = (request: Request, { params }: Context) =>
  answer(async (database, read) => {
    const { arm, recording } = await readBody(
      request,
      v.object({ arm: v.picklist([AS_IS, TREATED]), recording: v.optional(v.boolean(), false) }),
    );
    // Who asks is who is told: the proxy lets no other origin in.
    const application = `http://${request.headers.get('host') ?? ''}`;
    const url = await openPreview(
      read,
      readId((await params).id),
      await readConditions(request, database),
      arm,
      recording ? application : null,
    );
    return { url: orElse(url, 'The page was not measured yet: there is nothing to open.') };
  });
