import { expect, it } from 'vitest';
import type { BillSegment, SegmentKind } from '../bill.ts';
import { findingsBeside } from './beside.ts';
import type { BillLine, Finding } from './finding.ts';

const URL_A = 'https://quay.test/a.css';
const segment = (kind: SegmentKind, url?: string): BillSegment => ({
  kind,
  code: 'unexplained',
  startMs: 0,
  endMs: 10,
  ...(url ? { url } : {}),
});
const finding = (line: BillLine, ...urls: string[]): Finding => ({
  id: line + urls.join(),
  line,
  facts: { code: 'staff unknown' },
  sentence: '',
  urls,
  costMs: null,
});

it('stand beside the lines of their asset that they would shorten, by their numbers', () => {
  const findings = [
    finding('waiting', 'https://quay.test/b.css', URL_A),
    finding('connecting', URL_A),
    finding('bytes', URL_A),
    finding('bytes', 'https://quay.test/other.css'),
    finding('after the paint', URL_A),
  ];
  const beside = (kind: SegmentKind, url: string | undefined = URL_A) =>
    findingsBeside(segment(kind, url), findings);
  expect(beside('bytes')).toEqual([1, 3]);
  expect(beside('server')).toEqual([1]);
  expect(beside('discovery')).toEqual([1]);
  expect(beside('connect')).toEqual([2]);
  expect(beside('running')).toEqual([]);
  expect(findingsBeside(segment('unexplained'), findings)).toEqual([]);
});
