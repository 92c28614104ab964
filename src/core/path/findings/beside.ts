import type { BillSegment, SegmentKind } from '../bill.ts';
import type { BillLine, Finding } from './finding.ts';

/** Which lines of the bill a finding about an asset would shorten. */
const SHORTENS: Record<BillLine, readonly SegmentKind[]> = {
  waiting: ['discovery', 'queue', 'server', 'bytes'],
  connecting: ['connect'],
  server: ['server'],
  bytes: ['bytes'],
  'main thread': ['running', 'work', 'style'],
  'after the paint': [],
};

/**
 * The findings that a line of the bill is shortened by, as numbers from 1 in their order: those that speak of
 * its asset and of this part of its time.
 */
export function findingsBeside(segment: BillSegment, findings: readonly Finding[]): number[] {
  const { url, kind } = segment;
  if (url === undefined) return [];
  return findings.flatMap((finding, index) =>
    finding.urls.includes(url) && SHORTENS[finding.line].includes(kind) ? [index + 1] : [],
  );
}
