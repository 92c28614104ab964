import { deleteMeasurement } from '@/store/kept-measurements';
import { worksBeside } from '@/store/jobs';
import { answer, readId, Refusal } from '../../../../answer';

type Context = { params: Promise<{ id: string; measurement: string }> };

/** Deletes one measurement, and what only it needs. */
export const DELETE = (_request: Request, { params }: Context) =>
  answer(async (database) => {
    const { id, measurement } = await params;
    const pageId = readId(id);
    // What runs may stand on the capture that would go.
    if (await worksBeside(database, pageId))
      throw new Refusal(
        409,
        'Something runs for this site, and may need what was measured. Nothing was deleted. Cancel it, or wait until it has ended.',
      );
    if (!(await deleteMeasurement(database, pageId, readId(measurement))))
      throw new Refusal(404, 'There is no such measurement any more. Nothing was deleted.');
  });
