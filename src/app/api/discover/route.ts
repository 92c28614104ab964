import { DEFAULT_CONDITIONS_ID } from '@/core/measure/conditions';
import { addJob, findJob } from '@/store/jobs';
import { jobView } from '@/usecases/jobs';
import { answer, readBody } from '../answer';
import { DISCOVER } from '../schemas';

/** Looks for pages: by a sitemap, or by the links on a page. */
export const POST = (request: Request) =>
  answer(async (database) => {
    const { url, limit } = await readBody(request, DISCOVER);
    const input = { name: url, url, ...(limit === undefined ? {} : { limit }) };
    const id = await addJob(database, 'discover', null, DEFAULT_CONDITIONS_ID, input);
    return jobView((await findJob(database, id))!);
  });
