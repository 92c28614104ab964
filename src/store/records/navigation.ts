import * as v from 'valibot';
import type { AnyYardstick } from '../../core/measure/yardstick.ts';
import type { NavigationResult } from '../../core/next/navigation.ts';
import { recordKind } from './record.ts';

/** What going on to a next page showed, and how that was tried. */
export interface NavigationRecord extends NavigationResult {
  takenAt: string;
  seed: number;
  yardstick: AnyYardstick;
  quality: { rejected: string[]; tooBusy: boolean };
}

export const NAVIGATION = recordKind<NavigationRecord>({
  what: 'A way to a next page',
  todo: 'Try it again.',
  upgraders: [(before) => ({ ...before, both: null, nextPlan: { state: 'none' } })],
  shape: v.looseObject({ pairs: v.array(v.looseObject({})), paint: v.looseObject({}) }),
});
