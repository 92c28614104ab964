import * as v from 'valibot';
import type { AnyYardstick } from '../../core/measure/yardstick.ts';
import type { RuleGains } from '../../core/trial/rule-gains.ts';
import { recordKind } from './record.ts';

/** What each step of a plan gained, and how that was measured. */
export interface RuleGainsRecord extends RuleGains {
  takenAt: string;
  seed: number;
  yardstick: AnyYardstick;
  quality: { rejected: string[]; tooBusy: boolean };
}

export const RULE_GAINS = recordKind<RuleGainsRecord>({
  what: 'What each rule gains',
  todo: 'Measure it again.',
  upgraders: [],
  shape: v.looseObject({
    headline: v.string(),
    steps: v.array(v.looseObject({ ruleIds: v.array(v.string()), gained: v.looseObject({}) })),
  }),
});
