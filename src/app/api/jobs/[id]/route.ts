import { askCancel } from '@/store/jobs';
import { answer, readId } from '../../answer';

type Context = { params: Promise<{ id: string }> };

/** Cancels a job. */
export const DELETE = (_request: Request, { params }: Context) =>
  answer(async (database) => askCancel(database, readId((await params).id)));
