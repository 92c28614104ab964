import { describe, expect, it } from 'vitest';
import { foldOf, nameOfViewport, viewportsBetween } from './viewports.ts';

describe('viewports', () => {
  it('have their fold at the lower edge, or where it is said', () => {
    expect(foldOf({ width: 390, height: 844 })).toBe(844);
    expect(foldOf({ width: 390, height: 844, foldHeight: 600 })).toBe(600);
    expect(nameOfViewport({ width: 390, height: 844, foldHeight: 600 })).toBe('390×844 (fold at 600)');
  });

  it('are proved at three widths between, in the widest stretches where nothing is looked at yet', () => {
    const chosen = [
      { width: 400, height: 800 },
      { width: 1400, height: 900 },
    ];
    expect(viewportsBetween(chosen, []).map((one) => one.width)).toEqual([650, 900, 1150]);
    // A breakpoint cuts a stretch: each side of it is looked at.
    expect(viewportsBetween(chosen, [600, 5000]).map((one) => one.width)).toEqual([500, 867, 1133]);
    expect(viewportsBetween(chosen, [600]).every((one) => one.height === 800)).toBe(true);
  });

  it('have nothing between when there is one only', () => {
    expect(viewportsBetween([{ width: 400, height: 800 }], [600])).toEqual([]);
  });
});
