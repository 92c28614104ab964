import * as v from 'valibot';
import type { FoldFingerprint } from '../../core/fold/staleness.ts';
import type { LighterImages } from '../../core/images/lighter.ts';
import { recordKind } from './record.ts';

/** What came of making a page's images lighter, and what it was made from. */
export interface LighterRecord extends LighterImages {
  fingerprint: FoldFingerprint;
}

export const LIGHTER_IMAGES = recordKind<LighterRecord>({
  what: 'What is known of lighter images',
  todo: 'Make them again in Treat.',
  upgraders: [],
  shape: v.looseObject({
    takenAt: v.string(),
    images: v.array(v.looseObject({ url: v.string(), of: v.string(), versions: v.array(v.unknown()) })),
    stay: v.array(v.unknown()),
    fingerprint: v.looseObject({}),
  }),
});
