import { boardView } from '@/usecases/board-view';
import { answer, readConditions } from '../answer';

export const dynamic = 'force-dynamic';

export const GET = (request: Request) =>
  answer(async (database) => boardView(database, await readConditions(request, database)));
