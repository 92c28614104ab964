import * as v from 'valibot';
import type { Capture } from '../../core/measure/exchange.ts';
import { isRecord, recordKind } from './record.ts';

const list = (value: unknown): Record<string, unknown>[] =>
  Array.isArray(value) ? value.filter(isRecord) : [];

export const CAPTURE = recordKind<Capture>({
  what: 'A capture',
  todo: 'Measure the page again.',
  upgraders: [
    // What is animated, what stands behind elements and which file is of which face were not noted at first.
    (before) => {
      const observations = isRecord(before['observations']) ? before['observations'] : {};
      return {
        ...before,
        observations: {
          ...observations,
          backgrounds: list(observations['backgrounds']),
          animations: list(observations['animations']),
          fontFiles: list(observations['fontFiles']).map((file) => ({
            weights: [1, 1_000],
            italic: false,
            ...file,
          })),
          fonts: list(observations['fonts']).map((use) => ({ weight: 400, italic: false, ...use })),
          scriptUsage: list(observations['scriptUsage']).map((usage) => ({
            usedByPaintBytes: null,
            ...usage,
          })),
        },
      };
    },
    // Nor which images stood below the first screen.
    (before) => ({
      ...before,
      observations: { ...(before['observations'] as object), imagesBelow: [] },
    }),
    // Nor which embeds did.
    (before) => ({
      ...before,
      observations: { ...(before['observations'] as object), embedsBelow: [] },
    }),
  ],
  shape: v.looseObject({
    url: v.string(),
    documentUrl: v.string(),
    takenAt: v.string(),
    exchanges: v.array(
      v.looseObject({ url: v.string(), method: v.string(), bodyHash: v.nullable(v.string()) }),
    ),
    observations: v.looseObject({ boxes: v.array(v.unknown()), shifts: v.array(v.unknown()) }),
  }),
});
