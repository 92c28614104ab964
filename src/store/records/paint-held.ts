import * as v from 'valibot';
import type { PaintHeld } from '../../core/path/held.ts';
import { recordKind } from './record.ts';

export const PAINT_HELD = recordKind<PaintHeld>({
  what: 'What the paint waited for',
  todo: 'Measure the page again.',
  upgraders: [],
  shape: v.looseObject({
    assets: v.number(),
    first: v.nullable(v.looseObject({ name: v.string(), waitedMs: v.number() })),
  }),
});
