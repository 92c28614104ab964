import * as v from 'valibot';
import type { FoundSoFar } from '../../core/rehearse/rehearsal.ts';
import { recordKind } from './record.ts';

export const FOUND_SO_FAR = recordKind<FoundSoFar>({
  what: 'What a rehearsal had found',
  todo: 'Rehearse the plan again.',
  upgraders: [],
  shape: v.looseObject({
    plan: v.looseObject({ rules: v.array(v.looseObject({ id: v.string() })) }),
    exceptions: v.array(v.looseObject({ ruleId: v.string(), evidence: v.string() })),
  }),
});
