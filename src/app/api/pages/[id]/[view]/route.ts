import type { Read } from '@/usecases/readings';
import { answer, orElse, readConditions, readId, readVisit } from '../../../answer';

type Context = { params: Promise<{ id: string; view: string }> };

type Stage = (read: Read, pageId: number, conditionsId: string, request: Request) => Promise<unknown>;

const STAGES: ReadonlyMap<string, Stage> = new Map<string, Stage>([
  ['measure', (read, pageId, conditionsId) => read('measure', pageId, conditionsId)],
  ['fold', (read, pageId) => read('fold', pageId)],
  ['treat', (read, pageId, conditionsId) => read('treat', pageId, conditionsId)],
  ['prove', (read, pageId, conditionsId, request) => read('prove', pageId, conditionsId, readVisit(request))],
  ['rule-gains', (read, pageId, conditionsId) => read('rule gains', pageId, conditionsId)],
  ['family-check', (read, pageId, conditionsId) => read('family check', pageId, conditionsId)],
  ['next', (read, pageId, conditionsId) => read('next', pageId, conditionsId)],
  ['handoff', (read, pageId, conditionsId) => read('handoff', pageId, conditionsId)],
  ['handoff-others', (read, pageId, conditionsId) => read('handoff others', pageId, conditionsId)],
]);

/** What one stage of a page shows; null where there is nothing yet. */
export const GET = (request: Request, { params }: Context) =>
  answer(async (database, read) => {
    const { id, view } = await params;
    const stage = orElse(STAGES.get(view), 'There is no such stage.');
    return Response.json(await stage(read, readId(id), await readConditions(request, database), request));
  });
