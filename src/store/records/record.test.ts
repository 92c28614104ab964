import * as v from 'valibot';
import { describe, expect, it } from 'vitest';
import { holdsThere } from '../../core/trial/other-device.ts';
import { CAPTURE } from './capture.ts';
import { recordKind } from './record.ts';
import { TRIAL } from './trial.ts';

describe('a record', () => {
  const NOTE = recordKind<{ text: string; lines: number }>({
    what: 'A note',
    todo: 'Write it again.',
    upgraders: [
      ({ words, ...rest }) => ({ ...rest, text: words }),
      (before) => ({ ...before, lines: String(before['text']).split('\n').length }),
    ],
    shape: v.looseObject({ text: v.string(), lines: v.number() }),
  });

  it('comes back as it was kept, without its version', () => {
    const kept = JSON.parse(NOTE.write({ text: 'a', lines: 1 })) as unknown;
    expect(kept).toMatchObject({ recordVersion: 3 });
    expect(NOTE.read(kept)).toEqual({ text: 'a', lines: 1 });
  });

  it('is brought up to date from whichever version it has; without one it is of the first', () => {
    expect(NOTE.read({ words: 'a\nb' })).toEqual({ text: 'a\nb', lines: 2 });
    expect(NOTE.read({ recordVersion: 2, text: 'a\nb\nc' })).toEqual({ text: 'a\nb\nc', lines: 3 });
  });

  it('that is broken or of a later version is refused with what to do', () => {
    expect(() => NOTE.read({ recordVersion: 9, text: 'a' })).toThrow(
      'A note that is stored cannot be read: a later version of Wistrel stored it. Write it again. What else is stored is kept.',
    );
    expect(() => NOTE.read({ recordVersion: 3, text: 7, lines: 1 })).toThrow('“text” is not as it has to be');
    expect(() => NOTE.read('x')).toThrow('it is no record');
  });
});

it('a capture of the first version tells of fonts what every other one does', () => {
  const boxes = {
    boxes: [],
    shifts: [],
    fonts: [{ family: 'Signs' }],
    fontFiles: [{ url: 'a.woff2', family: 'Signs' }],
  };
  const first = { url: 'u', documentUrl: 'u', takenAt: 't', exchanges: [], observations: boxes };
  const { observations } = CAPTURE.read(first);
  expect(observations.fontFiles[0]).toEqual({
    url: 'a.woff2',
    family: 'Signs',
    weights: [1, 1_000],
    italic: false,
  });
  expect(observations.fonts[0]).toMatchObject({ weight: 400, italic: false });
  expect([
    observations.backgrounds,
    observations.animations,
    observations.scriptUsage,
    observations.imagesBelow,
  ]).toEqual([[], [], [], []]);
});

it.each([
  [null, { paint: null, speedIndex: null }],
  ['the final pictures differ', { paint: 'the final pictures differ', speedIndex: null }],
])('a trial that was held on both devices before tells what was withheld there as now: %s', (before, now) => {
  const paint = { pairs: 8, differenceMs: -90, low: -120, high: -60, verdict: 'earlier' };
  const there = { conditions: {}, headline: 'firstPaintMs', paint, speedIndex: paint, worse: [], breaks: [] };
  const { checks, result } = TRIAL.read({
    recordVersion: 5,
    arms: [],
    result: { verdict: 'earlier', headline: 'firstPaintMs', sentence: 'Earlier.', otherDevice: 'holds' },
    checks: { consoleErrors: {}, otherDevice: { ...there, withheld: before } },
  });
  expect(checks.otherDevice).toMatchObject({ tooBusy: false, withheld: now });
  expect(holdsThere(checks.otherDevice!)).toBe(before === null);
  expect(result).not.toHaveProperty('otherDevice');
});

it('a trial that was held on one device before stays one', () => {
  const result = { verdict: 'earlier', headline: 'firstPaintMs', sentence: 'Earlier.' };
  const stored = { recordVersion: 5, arms: [], result, checks: { otherDevice: null } };
  expect(TRIAL.read(stored).checks.otherDevice).toBeNull();
});
