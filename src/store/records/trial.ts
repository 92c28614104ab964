import * as v from 'valibot';
import type { TrialRecord } from '../proofs.ts';
import { recordKind } from './record.ts';

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
