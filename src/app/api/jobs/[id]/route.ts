import { addJob, askCancel, findJob, moveJob } from '@/store/jobs';
import { hasUpload } from '@/store/uploads';
import { jobView } from '@/usecases/jobs';
import { answer, orElse, readBody, readId, Refusal } from '../../answer';
import { MOVE_JOB } from '../../schemas';

type Context = { params: Promise<{ id: string }> };

export const dynamic = 'force-dynamic';

export const GET = (_request: Request, { params }: Context) =>
  answer(async (database) =>
    jobView(orElse(await findJob(database, readId((await params).id)), 'There is no such job.')),
  );

/** Changes the order of what waits. */
export const PATCH = (request: Request, { params }: Context) =>
  answer(async (database) =>
    moveJob(database, readId((await params).id), (await readBody(request, MOVE_JOB)).move),
  );

/** Puts the same work in the queue again, with all that it was given. */
export const POST = (_request: Request, { params }: Context) =>
  answer(async (database) => {
    const job = orElse(await findJob(database, readId((await params).id)), 'There is no such job.');
    if (job.state === 'waiting' || job.state === 'running') return jobView(job);
    const { kind, pageId, conditionsId, input } = job;
    if (kind === 'import' && !(await hasUpload(database, Number(input?.['uploadId'] ?? 0))))
      throw new Refusal(409, `The file ${job.pageName} is not kept any more. Choose it again.`);
    return jobView((await findJob(database, await addJob(database, kind, pageId, conditionsId, input)))!);
  });

/** Cancels a job. */
export const DELETE = (_request: Request, { params }: Context) =>
  answer(async (database) => askCancel(database, readId((await params).id)));
