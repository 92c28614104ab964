import type { Queries } from '@/store/database';
import { measureView } from '@/usecases/measure-view';
import { foldView } from '@/usecases/fold-view';
import { handoffView, proveView, treatView } from '@/usecases/views';
import { answer, orElse, readConditions, readId } from '../../../answer';

type Context = { params: Promise<{ id: string; view: string }> };

const VIEWS: Record<string, (queries: Queries, pageId: number, conditionsId: string) => Promise<unknown>> = {
  measure: measureView,
  fold: foldView,
  treat: treatView,
  prove: proveView,
  handoff: handoffView,
};

/** What one stage of a page shows; null where there is nothing yet. */
export const GET = (request: Request, { params }: Context) =>
  answer(async (database) => {
    const { id, view } = await params;
    const read = orElse(VIEWS[view], 'There is no such stage.');
    return Response.json(await read(database, readId(id), await readConditions(request, database)));
  });
