import { describe, expect, it } from 'vitest';
import { panned, zoomed } from './axis.ts';

describe('the axis', () => {
  it('zooms about the moment under the pointer, which stays where it is', () => {
    const near = zoomed({ from: 0, to: 4_000 }, 1_000, 0.5, 4_000);
    expect(near).toEqual({ from: 500, to: 2_500 });
    expect((1_000 - near.from) / (near.to - near.from)).toBe(0.25);
  });

  it('never leaves the load, and never looks closer than it can show', () => {
    expect(zoomed({ from: 0, to: 4_000 }, 1_000, 3, 4_000)).toEqual({ from: 0, to: 4_000 });
    const closest = zoomed({ from: 100, to: 150 }, 120, 0.1, 4_000);
    expect(closest.to - closest.from).toBe(40);
    expect(panned({ from: 3_000, to: 4_000 }, 0.5, 4_000)).toEqual({ from: 3_000, to: 4_000 });
    expect(panned({ from: 1_000, to: 2_000 }, -0.5, 4_000)).toEqual({ from: 500, to: 1_500 });
  });
});
