import { deleteConditions } from '@/store/conditions';
import { answer } from '../../answer';

type Context = { params: Promise<{ id: string }> };

/** Deletes conditions of the user's own; what was measured under them is kept. */
export const DELETE = (_request: Request, { params }: Context) =>
  answer(async (database) => deleteConditions(database, (await params).id));
