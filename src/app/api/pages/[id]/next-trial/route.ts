import { conditionsById } from '@/store/conditions';
import { addJob, findJob, unfinishedJob } from '@/store/jobs';
import { findPage } from '@/store/sites';
import { jobView } from '@/usecases/jobs';
import { answer, NO_SUCH_PAGE, orElse, readBody, readPage } from '../../../answer';
import { TRY_NEXT } from '../../../schemas';

type Context = { params: Promise<{ id: string }> };

/** Puts going on from a page to one that it links to in the queue; one such way at a time waits or runs. */
export const POST = (request: Request, { params }: Context) =>
  answer(async (database) => {
    const { toPageId, conditionsId } = await readBody(request, TRY_NEXT);
    const page = await readPage(database, params);
    orElse(await findPage(database, toPageId), NO_SUCH_PAGE);
    orElse(await conditionsById(database, conditionsId), `There are no conditions “${conditionsId}”.`);
    const same = await unfinishedJob(database, 'navigation', page.id);
    const jobId =
      same?.id ??
      (await addJob(database, 'navigation', page.id, conditionsId, { name: page.name, toPageId }));
    return jobView((await findJob(database, jobId))!);
  });
