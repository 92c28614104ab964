import * as v from 'valibot';
import type { Metrics, MetricSpreads } from '../../core/measure/metrics.ts';
import type { AnyYardstick } from '../../core/measure/yardstick.ts';
import type { ArmId } from '../../core/trial/arms.ts';
import type { TrialChecks, TrialResult } from '../../core/trial/verdict.ts';
import { recordKind } from './record.ts';

/** A trial without its pictures. */
export interface TrialRecord {
  takenAt: string;
  arms: { id: ArmId; metrics: Metrics[]; spreads: MetricSpreads; consoleErrors: string[] }[];
  /** Which pair's frames are kept; null for a trial of before. */
  shownPair: number | null;
  result: TrialResult;
  checks: TrialChecks;
  windowMs: number;
  seed: number;
  /** In which order the arms of each pair ran. */
  order: (readonly ArmId[])[];
  yardstick: AnyYardstick;
  /** Why pairs were made again, and whether some had to be kept although the rule rejects them. */
  quality: { rejected: string[]; tooBusy: boolean };
}

export const TRIAL = recordKind<TrialRecord>({
  what: 'A trial',
  todo: 'Hold it again.',
  upgraders: [],
  shape: v.looseObject({
    arms: v.array(v.looseObject({ id: v.string(), spreads: v.looseObject({}) })),
    result: v.looseObject({ verdict: v.string(), headline: v.string(), sentence: v.string() }),
    checks: v.looseObject({}),
  }),
});
