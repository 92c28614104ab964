import { describe, expect, it } from 'vitest';
import { disagreements, percentile, rejectionOf } from './quality.ts';

describe('rejectionOf', () => {
  it('rejects a run by its circumstances alone, and says which', () => {
    expect(rejectionOf({ latenessMs: 3, othersCpu: 0.05 })).toBeNull();
    expect(rejectionOf({ latenessMs: 3, othersCpu: null })).toBeNull();
    expect(rejectionOf({ latenessMs: 40.2, othersCpu: 0 })).toBe('the network’s timers were 40 ms late');
    expect(rejectionOf({ latenessMs: 3, othersCpu: 0.5 })).toBe('others used 50 % of the machine');
  });

  it('takes percentiles of what there is', () => {
    expect(percentile([], 0.95)).toBe(0);
    expect(percentile([5, 1, 2, 3, 4], 0.5)).toBe(3);
    expect(
      percentile(
        Array.from({ length: 100 }, (_, index) => index),
        0.95,
      ),
    ).toBe(95);
  });
});

describe('disagreements', () => {
  const good = {
    firstPaintMs: 900,
    speedIndexMs: 890,
    firstFrameMs: 905,
    wireBytes: 500_000,
    requests: 10,
    sentBytes: 530_000,
  };

  it('says nothing when the figures agree, within a frame', () => {
    expect(disagreements(good)).toEqual([]);
    expect(disagreements({ ...good, firstPaintMs: null, speedIndexMs: null, firstFrameMs: null })).toEqual(
      [],
    );
  });

  it('says what does not', () => {
    expect(disagreements({ ...good, speedIndexMs: 800 })).toEqual([
      'Speed Index (800 ms) is earlier than first paint (900 ms)',
    ]);
    expect(disagreements({ ...good, firstFrameMs: 1_000 })).toEqual([
      'the first picture came 100 ms after first paint',
    ]);
    expect(disagreements({ ...good, sentBytes: 400_000 })).toEqual([
      'the requests sum to 500,000 bytes, the network let 400,000 through',
    ]);
    expect(disagreements({ ...good, sentBytes: 900_000 })).toHaveLength(1);
  });
});
