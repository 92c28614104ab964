import type { Read } from '@/usecases/readings';
import { answer, orElse, readConditions, readId } from '../../../answer';

type Context = { params: Promise<{ id: string; view: string }> };

type Stage = (read: Read, pageId: number, conditionsId: string) => Promise<unknown>;

const STAGES: ReadonlyMap<string, Stage> = new Map<string, Stage>([
  ['measure', (read, ...of) => read('measure', ...of)],
  ['fold', (read, pageId) => read('fold', pageId)],
  ['treat', (read, ...of) => read('treat', ...of)],
  ['prove', (read, ...of) => read('prove', ...of)],
  ['rule-gains', (read, ...of) => read('rule gains', ...of)],
  ['family-check', (read, ...of) => read('family check', ...of)],
  ['next', (read, ...of) => read('next', ...of)],
  ['handoff', (read, ...of) => read('handoff', ...of)],
]);

/** What one stage of a page shows; null where there is nothing yet. */
export const GET = (request: Request, { params }: Context) =>
  answer(async (database, read) => {
    const { id, view } = await params;
    const stage = orElse(STAGES.get(view), 'There is no such stage.');
    return Response.json(await stage(read, readId(id), await readConditions(request, database)));
  });
