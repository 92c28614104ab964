import * as v from 'valibot';
import { describe, expect, it } from 'vitest';
import { CAPTURE } from './capture.ts';
import { recordKind } from './record.ts';

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
