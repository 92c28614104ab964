import * as v from 'valibot';
import type { FoldFingerprint } from '../../core/fold/staleness.ts';
import type { LighterFiles } from '../../core/measure/lighter-files.ts';
import { recordKind } from './record.ts';

/** What came of making a page's files lighter, and what it was made from. */
export interface LighterRecord extends LighterFiles {
  fingerprint: FoldFingerprint;
}

export const LIGHTER_IMAGES = recordKind<LighterRecord>({
  what: 'What is known of lighter files',
  todo: 'Make them again in Treat.',
  upgraders: [(before) => ({ ...before, fonts: [], fontsStay: [] }), (before) => ({ ...before, embeds: [] })],
  shape: v.looseObject({
    takenAt: v.string(),
    images: v.array(v.looseObject({ url: v.string(), of: v.string(), versions: v.array(v.unknown()) })),
    stay: v.array(v.unknown()),
    embeds: v.array(v.looseObject({ url: v.string(), of: v.string(), bodyHash: v.string() })),
    fonts: v.array(v.looseObject({ url: v.string(), of: v.string(), smaller: v.looseObject({}) })),
    fontsStay: v.array(v.unknown()),
    fingerprint: v.looseObject({}),
  }),
});
