import { describe, expect, it } from 'vitest';
import { bytesNow, bytesOn, sizesOf, versionWidths, type LighterImage } from './lighter.ts';

const at = (viewportWidth: number, width: number) => ({ viewportWidth, width });

describe('widths of lighter versions', () => {
  it('go from what a phone takes to twice what a laptop takes, in steps that are worth a file', () => {
    const widths = versionWidths({ width: 4_000, height: 3_000 }, [at(390, 360), at(1_440, 700)]);
    expect(widths[0]).toBeGreaterThanOrEqual(360);
    expect(widths[0]).toBeLessThan(380);
    expect(widths.at(-1)).toBe(1_400);
    for (const [index, width] of widths.slice(1).entries())
      expect(width / widths[index]!).toBeGreaterThan(1.14);
    expect(widths.length).toBeLessThanOrEqual(6);
  });

  it('are never beyond the file’s own, and none where it is shown nowhere', () => {
    expect(versionWidths({ width: 300, height: 200 }, [at(390, 360), at(1_440, 700)])).toEqual([300]);
    expect(versionWidths({ width: 300, height: 200 }, [])).toEqual([]);
    expect(versionWidths({ width: 300, height: 200 }, [at(390, 0)])).toEqual([]);
  });

  it('are those at which the shape of the file hardly changes', () => {
    const size = { width: 1_999, height: 1_333 };
    for (const width of versionWidths(size, [at(390, 101), at(1_440, 700)])) {
      const height = (width * size.height) / size.width;
      expect(Math.abs(Math.round(height) - height) / height).toBeLessThan(0.001);
    }
  });

  it('move nothing below a small image of an odd shape, not even by the least step of a browser', () => {
    const size = { width: 397, height: 429 };
    for (const width of versionWidths(size, [at(390, 100), at(1_440, 100)])) {
      const shown = (100 * Math.round((width * size.height) / size.width)) / width;
      expect(Math.abs(shown - (100 * size.height) / size.width)).toBeLessThan(1 / 64);
    }
  });
});

describe('sizes', () => {
  it('are a width where it is the same everywhere, and a share of the screen where it is one', () => {
    expect(sizesOf([at(390, 360), at(1_440, 360)])).toBe(
      '(max-width: 390px) and (min-resolution: 2.5dppx) 62vw, (max-width: 390px) 93vw, (min-resolution: 2.5dppx) 240px, 360px',
    );
    expect(sizesOf([at(390, 390), at(820, 820), at(1_440, 1_440)])).toBe(
      '(min-resolution: 2.5dppx) 67vw, 100vw',
    );
  });

  it('are nowhere less than what was seen at either side of a width', () => {
    const needs = [at(390, 370), at(820, 410), at(1_440, 1_100)];
    const sizes = sizesOf(needs);
    expect(sizes).toBe(
      '(max-width: 820px) and (min-resolution: 2.5dppx) 64vw, (max-width: 820px) 95vw, (min-resolution: 2.5dppx) 51vw, 77vw',
    );
    // A layout that changes at once right above a width that was looked at is served by that one's share.
    const widthAt = (viewport: number) => (viewport <= 820 ? 0.95 : 0.77) * viewport;
    for (const { viewportWidth, width } of needs)
      expect(widthAt(viewportWidth)).toBeGreaterThanOrEqual(width);
  });
});

it('tells the bytes of the version that a screen takes', () => {
  const version = (format: 'avif' | 'webp', width: number, bytes: number) => ({
    format,
    width,
    height: width,
    bytes,
    bodyHash: `${format} ${width}`,
  });
  const image: Omit<LighterImage, 'versions'> = {
    url: 'https://quay.test/ferry.jpg',
    of: 'x',
    bytes: 200_000,
    size: { width: 1_600, height: 1_600 },
    needs: [at(390, 390), at(1_440, 800)],
    sizedByFile: false,
    chosen: [],
  };
  const avif = [version('avif', 400, 10), version('avif', 800, 30), version('avif', 1_600, 90)];
  const screens = [
    [390, 1],
    [390, 2],
    [390, 3],
    [1_440, 1],
    [1_440, 2],
  ] as const;
  const on = (versions: LighterImage['versions']) =>
    screens.map(([width, density]) => bytesOn({ ...image, versions }, width, density));
  expect(on([...avif, version('webp', 400, 15)])).toEqual([10, 30, 30, 30, 90]);
  // Of a set that the markup chooses from each file has its own version, and a phone takes the one for all of its pixels.
  const set = [400, 800, 1_200, 1_600].map((width) => ({
    width,
    bytes: width === 1_600 ? null : width * 100,
  }));
  const inSet = { ...image, versions: avif, set };
  const of = (tell: typeof bytesOn) => screens.map(([width, density]) => tell(inSet, width, density));
  expect(of(bytesNow)).toEqual([40_000, 80_000, 120_000, 80_000, 200_000]);
  expect(of(bytesOn)).toEqual([10, 30, 120_000, 30, 90]);
  // Where no version is lighter for the widest, they have the file as it is.
  expect(on(avif.slice(0, 2))).toEqual([10, 30, 30, 30, 200_000]);
});
