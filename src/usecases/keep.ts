import type { ResultOf } from '../engine/jobs/orders.ts';
import { addCapture } from '../store/captures.ts';
import type { Database } from '../store/database.ts';
import { addMeasurement } from '../store/measurements.ts';
import { addFold, addTrial, type NewPicture } from '../store/proofs.ts';
import type { Plan } from '../core/treat/plan.ts';

/** Stores a capture with its measurement, both or neither. */
export function keepMeasurement(database: Database, pageId: number, result: ResultOf<'measure'>): Promise<number> {
  return database.transaction(async (queries) => {
    const captureId = await addCapture(queries, pageId, result.capture, result.bodies);
    return addMeasurement(queries, pageId, captureId, result.measurement);
  });
}

/** Stores fold CSS with its proof's pictures. */
export function keepFold(database: Database, pageId: number, captureId: number, { fold }: ResultOf<'fold'>): Promise<number> {
  const pictures: NewPicture[] = fold.viewports.flatMap((one) =>
    (['allCss', 'foldOnly', 'difference'] as const).map((name) => ({
      name: `${one.width}x${one.height} ${name}`,
      mimeType: 'image/png',
      image: one[name],
    })),
  );
  const record = { ...fold, viewports: fold.viewports.map(({ width, height, differingPixelShare, blank }) => ({ width, height, differingPixelShare, blank })) };
  return database.transaction((queries) => addFold(queries, pageId, captureId, record, pictures));
}

/** Stores a trial with its frames and final pictures. */
export function keepTrial(database: Database, pageId: number, captureId: number, plan: Plan, { trial }: ResultOf<'trial'>): Promise<number> {
  const pictures: NewPicture[] = trial.arms.flatMap((arm) => [
    ...arm.frames.map((frame) => ({ name: `${arm.name} frame`, mimeType: 'image/jpeg', image: frame.image, atMs: frame.atMs, completeness: frame.completeness })),
    ...(arm.finalPicture ? [{ name: `${arm.name} final`, mimeType: 'image/png', image: arm.finalPicture }] : []),
  ]);
  if (trial.pictureDifference) pictures.push({ name: 'difference', mimeType: 'image/png', image: trial.pictureDifference });
  const { arms, pictureDifference: _difference, ...rest } = trial;
  const record = { ...rest, arms: arms.map(({ name, metrics, spreads, consoleErrors }) => ({ name, metrics, spreads, consoleErrors })) };
  return database.transaction((queries) => addTrial(queries, pageId, captureId, plan, record, pictures));
}
