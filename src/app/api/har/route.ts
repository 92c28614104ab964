import type { ReadableStream } from 'node:stream/web';
import { accessOf, UNKNOWN } from '@/access';
import { isForeign, REFUSED } from '@/foreign';
import { addJob, findJob } from '@/store/jobs';
import { jobView } from '@/usecases/jobs';
import { keepUpload, TooLarge } from '@/usecases/uploads';
import { answer, readConditions, Refusal } from '../answer';

/** Takes a HAR file as it streams in; a job reads it and measures what it holds in replay. */
export const POST = (request: Request) =>
  answer(async (database) => {
    if (isForeign(request)) throw new Refusal(403, REFUSED.error);
    if (accessOf(request).is === 'unknown') throw new Refusal(401, UNKNOWN.error);
    const conditionsId = await readConditions(request, database);
    const name = new URL(request.url).searchParams.get('name')?.slice(0, 200) || 'page.har';
    if (!request.body) throw new Refusal(400, 'The file is empty.');
    const uploadId = await keepUpload(database, request.body as ReadableStream).catch((error: unknown) => {
      throw error instanceof TooLarge ? new Refusal(413, error.message) : error;
    });
    const id = await addJob(database, 'import', null, conditionsId, { name, uploadId });
    return jobView((await findJob(database, id))!);
  });
