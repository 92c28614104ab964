import * as v from 'valibot';
import type { Plan } from '../../core/treat/plan.ts';
import { recordKind } from './record.ts';

export const PLAN = recordKind<Plan>({
  what: 'A plan',
  todo: 'Go back to the recommended one.',
  upgraders: [],
  shape: v.looseObject({
    rules: v.array(
      v.looseObject({ id: v.string(), kind: v.string(), treatment: v.string(), match: v.unknown() }),
    ),
  }),
});
