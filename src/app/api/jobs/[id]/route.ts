import { askCancel, findJob, moveJob } from '@/store/jobs';
import { answer, orElse, readBody, readId } from '../../answer';
import { MOVE_JOB } from '../../schemas';

type Context = { params: Promise<{ id: string }> };

export const dynamic = 'force-dynamic';

export const GET = (_request: Request, { params }: Context) =>
  answer(async (database) =>
    orElse(await findJob(database, readId((await params).id)), 'There is no such job.'),
  );

/** Changes the order of what waits. */
export const PATCH = (request: Request, { params }: Context) =>
  answer(async (database) =>
    moveJob(database, readId((await params).id), (await readBody(request, MOVE_JOB)).move),
  );

/** Cancels a job. */
export const DELETE = (_request: Request, { params }: Context) =>
  answer(async (database) => askCancel(database, readId((await params).id)));
