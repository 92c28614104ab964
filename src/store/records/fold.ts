import * as v from 'valibot';
import type { FoldRecord } from '../../core/fold/record.ts';
import { recordKind } from './record.ts';

export const FOLD = recordKind<FoldRecord>({
  what: 'Fold CSS',
  todo: 'Make it again.',
  upgraders: [],
  shape: v.looseObject({
    css: v.string(),
    proved: v.boolean(),
    sheets: v.array(v.looseObject({ url: v.string(), css: v.string() })),
    viewports: v.array(v.looseObject({ width: v.number(), height: v.number() })),
  }),
});
