import { conditionsById } from '@/store/conditions';
import { addJob, listJobs } from '@/store/jobs';
import { findPage } from '@/store/sites';
import { answer, orElse, readBody } from '../../answer';
import { ADD_JOBS } from '../schemas';

/** Queues the same work for many pages in the given order; what waits or runs already is not put in twice. */
export const POST = (request: Request) =>
  answer(async (database) => {
    const { kind, pageIds, conditionsId } = await readBody(request, ADD_JOBS);
    orElse(await conditionsById(database, conditionsId), `There are no conditions “${conditionsId}”.`);
    const open = new Set(
      (await listJobs(database))
        .filter(
          (job) =>
            job.kind === kind &&
            job.conditionsId === conditionsId &&
            (job.state === 'waiting' || job.state === 'running'),
        )
        .map((job) => job.pageId),
    );
    const wanted = pageIds.filter((id) => !open.has(id));
    await database.transaction(async (queries) => {
      for (const id of wanted) {
        orElse(
          await findPage(queries, id),
          'One of these pages is not there any more. Nothing was queued; choose again from the board as it is now.',
        );
        await addJob(queries, kind, id, conditionsId);
      }
    });
    return { queued: wanted.length };
  });
