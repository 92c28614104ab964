import { lineKey, type BillSegment, type SegmentKind } from '../path/bill.ts';
import type { LineFacts } from '../words/bill.ts';

/** Less is no line of its own, ms: a frame. */
export const LEAST_LEFT_MS = 17;

/** One thing that a paint waited for, as is and treated. */
export type LeftLine = LineFacts & {
  kind: SegmentKind;
  asIsMs: number;
  treatedMs: number;
};

/** The treated paint's bill held against the as-is one's. */
export interface WhatIsLeft {
  asIsMs: number;
  treatedMs: number;
  /** The earliest the paint could be, ms; null where it is not known. */
  floorMs: number | null;
  /** What is left first, the longest of it at the top; then what is gone. */
  lines: LeftLine[];
}

/**
 * Holds the bills of a pair's two loads against each other: what went, what shrank, what is left.
 *
 * @param floorMs as it was computed from the as-is loads
 */
export function whatIsLeft(
  asIs: readonly BillSegment[],
  treated: readonly BillSegment[],
  floorMs: number | null,
): WhatIsLeft {
  const lines = new Map<string, LeftLine>();
  const add = (segment: BillSegment, arm: 'asIsMs' | 'treatedMs') => {
    const { kind, code, url, blocks, foundBy } = segment;
    const key = lineKey(segment);
    const line = lines.get(key) ?? {
      kind,
      code,
      ...(url === undefined ? {} : { url }),
      ...(blocks ? { blocks } : {}),
      ...(foundBy === undefined ? {} : { foundBy }),
      asIsMs: 0,
      treatedMs: 0,
    };
    line[arm] += segment.endMs - segment.startMs;
    lines.set(key, line);
  };
  for (const segment of treated) add(segment, 'treatedMs');
  for (const segment of asIs) add(segment, 'asIsMs');
  return {
    asIsMs: asIs.at(-1)?.endMs ?? 0,
    treatedMs: treated.at(-1)?.endMs ?? 0,
    floorMs,
    lines: [...lines.values()].sort(
      (one, other) => other.treatedMs - one.treatedMs || other.asIsMs - one.asIsMs,
    ),
  };
}
