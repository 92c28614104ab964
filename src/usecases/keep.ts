import { pictureType, smallerPicture } from '../engine/load/smaller-picture.ts';
import type { ResultOf } from '../engine/jobs/orders.ts';
import type { Conditions } from '../core/measure/conditions.ts';
import { addCapture } from '../store/captures.ts';
import { saveYardstick } from '../store/conditions.ts';
import type { Queries, Transactions } from '../store/database.ts';
import { addMeasurement } from '../store/measurements.ts';
import { addFold, addTrial, type NewPicture, type TrialProvenance } from '../store/proofs.ts';
import { foldHash } from './fold-hash.ts';

/** Stores what has come to an end. Call it inside a transaction. @returns its number or numbers */
export type Keep<T> = (queries: Queries) => Promise<T>;

/** A capture with its measurement. */
export function keepingMeasurement(
  pageId: number,
  conditions: Conditions,
  result: Pick<ResultOf<'measure'>, 'capture' | 'bodies' | 'state' | 'measurement'>,
): Keep<{ captureId: number; measurementId: number }> {
  const { returning, ...first } = result.measurement;
  return async (queries) => {
    const captureId = await addCapture(queries, pageId, result.capture, result.bodies, result.state);
    const measurementId = await addMeasurement(queries, pageId, captureId, {
      ...first,
      visit: 'first',
      conditions,
    });
    if (returning)
      await addMeasurement(queries, pageId, captureId, {
        ...first,
        ...returning,
        // What holds is told of first visits.
        held: null,
        visit: 'return',
        conditions,
      });
    await saveYardstick(queries, first.yardstick);
    return { captureId, measurementId };
  };
}

/** Stores a capture with its measurement, both or neither. */
export const keepMeasurement = (
  database: Transactions,
  ...of: Parameters<typeof keepingMeasurement>
): Promise<{ captureId: number; measurementId: number }> => database.transaction(keepingMeasurement(...of));

/** A picture as it is kept: compressed where it came as PNG. */
async function kept(picture: Omit<NewPicture, 'mimeType'>): Promise<NewPicture> {
  const image = await smallerPicture(picture.image);
  return { ...picture, image, mimeType: pictureType(image) };
}

/** Fold CSS with its proof's pictures. */
export async function keepingFold(
  pageId: number,
  captureId: number,
  { fold }: ResultOf<'fold'>,
): Promise<Keep<number>> {
  const pictures = await Promise.all(
    fold.viewports.flatMap((one) =>
      (['allCss', 'foldOnly', 'difference'] as const).map((name) =>
        kept({ name: `${one.width}x${one.height} ${name}`, image: one[name] }),
      ),
    ),
  );
  const { answers, ...rest } = fold;
  const viewports = fold.viewports.map(
    ({ allCss: _allCss, foldOnly: _foldOnly, difference: _difference, ...proof }) => proof,
  );
  return (queries) =>
    addFold(queries, pageId, captureId, { ...rest, viewports }, foldHash(fold), answers, pictures);
}

/** Stores fold CSS with its proof's pictures. */
export const keepFold = async (
  database: Transactions,
  ...of: Parameters<typeof keepingFold>
): Promise<number> => database.transaction(await keepingFold(...of));

/** A trial with its frames and final pictures. */
export async function keepingTrial(
  pageId: number,
  of: Omit<TrialProvenance, 'conditions' | 'visit'>,
  { trial }: ResultOf<'trial'>,
): Promise<Keep<number>> {
  const { arms, pictureDifference, conditions, visit, ...rest } = trial;
  const pictures = await Promise.all([
    ...arms.flatMap((arm) => [
      ...arm.frames.map(({ image, atMs, completeness }) =>
        kept({ name: `${arm.id} frame`, image, atMs, completeness }),
      ),
      ...(arm.finalPicture ? [kept({ name: `${arm.id} final`, image: arm.finalPicture })] : []),
    ]),
    ...(pictureDifference ? [kept({ name: 'difference', image: pictureDifference })] : []),
  ]);
  const record = {
    ...rest,
    arms: arms.map(({ id, metrics, spreads, consoleErrors }) => ({
      id,
      metrics,
      spreads,
      consoleErrors,
    })),
  };
  return (queries) => addTrial(queries, pageId, { ...of, conditions, visit }, record, pictures);
}

/** Stores a trial with its frames and final pictures. */
export const keepTrial = async (
  database: Transactions,
  ...of: Parameters<typeof keepingTrial>
): Promise<number> => database.transaction(await keepingTrial(...of));
