import { conditionsById } from '@/store/conditions';
import { addJob, findJob, listJobs, unfinishedJob } from '@/store/jobs';
import { findPage } from '@/store/sites';
import { jobView } from '@/usecases/jobs';
import { answer, NO_SUCH_PAGE, orElse, readBody } from '../answer';
import { ADD_JOB } from './schemas';

export const dynamic = 'force-dynamic';

export const GET = () => answer(async (database) => (await listJobs(database)).map(jobView));

/** Puts work in the queue; the same work that still waits or runs is not put in twice. */
export const POST = (request: Request) =>
  answer(async (database) => {
    const { kind, pageId, conditionsId } = await readBody(request, ADD_JOB);
    orElse(await findPage(database, pageId), NO_SUCH_PAGE);
    orElse(await conditionsById(database, conditionsId), `There are no conditions “${conditionsId}”.`);
    const same = await unfinishedJob(database, kind, pageId, conditionsId);
    return jobView(same ?? (await findJob(database, await addJob(database, kind, pageId, conditionsId)))!);
  });
