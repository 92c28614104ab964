import * as v from 'valibot';
import type { RunObservation } from '../../core/measure/run.ts';
import { recordKind } from './record.ts';

/** A run without its pictures, which are kept apart. */
export type StoredRun = Omit<RunObservation, 'frames' | 'finalPicture'>;

export const RUN = recordKind<StoredRun>({
  what: 'A run',
  todo: 'Measure the page again.',
  upgraders: [],
  shape: v.looseObject({ metrics: v.looseObject({}) }),
});
