import { expect, it } from 'vitest';
import { readServerTiming } from './server-timing.ts';

it('reads names, durations and descriptions, quoted or not, from one header or several', () => {
  expect(
    readServerTiming(['db;dur=120.5;desc="Sailings; all, \\"today\\"", cache;desc=miss', 'render;DUR=30']),
  ).toEqual([
    { name: 'db', description: 'Sailings; all, "today"', durationMs: 120.5 },
    { name: 'cache', description: 'miss', durationMs: null },
    { name: 'render', description: null, durationMs: 30 },
  ]);
});

it('passes over what it does not know and what comes twice; nothing is told of nothing', () => {
  expect(readServerTiming(['db;level=3;dur=1;dur=2;dur', ' , ;dur=3', ''])).toEqual([
    { name: 'db', description: null, durationMs: 1 },
  ]);
  expect(readServerTiming(['db;dur=soon'])).toEqual([{ name: 'db', description: null, durationMs: 0 }]);
});
