import * as v from 'valibot';
import type { StoredRun } from '../measurements.ts';
import { recordKind } from './record.ts';

export const RUN = recordKind<StoredRun>({
  what: 'A run',
  todo: 'Measure the page again.',
  upgraders: [],
  shape: v.looseObject({ metrics: v.looseObject({}) }),
});
