import * as v from 'valibot';
import type { Rehearsal } from '../../core/rehearse/rehearsal.ts';
import { recordKind } from './record.ts';

export const REHEARSAL = recordKind<Rehearsal>({
  what: 'A rehearsal',
  todo: 'Rehearse the plan again.',
  // What is rehearsed in another way is rehearsed again: nothing of before is ever shown.
  upgraders: [
    (before) => ({ ...before, deeds: [] }),
    (before) => ({ ...before, byItself: [] }),
    (before) => ({ ...before, later: [] }),
  ],
  shape: v.looseObject({
    plan: v.looseObject({ rules: v.array(v.unknown()) }),
    exceptions: v.array(v.looseObject({ ruleId: v.string(), evidence: v.string() })),
    held: v.number(),
    deeds: v.array(v.looseObject({ words: v.string(), effect: v.string() })),
  }),
});
