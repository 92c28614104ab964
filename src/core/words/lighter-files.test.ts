import { describe, expect, it } from 'vitest';
import type { LighterImage } from '../images/lighter.ts';
import { lighterSentence, smallerFontsSentence } from './lighter-files.ts';

function image(name: string, bytes: number, lighter: number): LighterImage {
  return {
    url: `https://ferries.example/${name}`,
    of: 'a'.repeat(64),
    bytes,
    size: { width: 400, height: 300 },
    needs: [{ viewportWidth: 390, width: 400 }],
    sizedByFile: false,
    versions: [{ format: 'avif', width: 400, height: 300, bodyHash: 'b'.repeat(64), bytes: lighter }],
    chosen: [{ format: 'avif', quality: 60, likeness: 0.99 }],
  };
}

const PIER = image('pier.jpg', 100_000, 30_000);
const SEAL = image('seal.jpg', 50_000, 20_000);

describe('what lighter images save', () => {
  it('counts those alone that the plan puts into the page, and says how many it leaves out', () => {
    expect(lighterSentence([PIER, SEAL], 2)).toBe(
      '2 images: 50 KB on a phone, 50 KB on a laptop, in the place of 150 KB.',
    );
    expect(lighterSentence([PIER], 2)).toBe(
      'One image: 30 KB on a phone, 30 KB on a laptop, in the place of 100 KB. One more image is lighter, and not in the plan.',
    );
    expect(lighterSentence([SEAL], 3)).toBe(
      'One image: 20 KB on a phone, 20 KB on a laptop, in the place of 50 KB. 2 more images are lighter, and not in the plan.',
    );
  });

  it('promises nothing where the plan takes none of them', () => {
    expect(lighterSentence([], 1)).toBe('The image that is lighter is not in the plan.');
    expect(lighterSentence([], 3)).toBe('None of the 3 images that are lighter is in the plan.');
    expect(lighterSentence([], 0)).toBe('No image that was looked at is lighter.');
  });
});

it('says of fonts what is saved, what is left out, and where none is smaller', () => {
  const keel = {
    url: 'https://ferries.example/keel.woff2',
    of: 'c'.repeat(64),
    bytes: 80_000,
    smaller: { bodyHash: 'd'.repeat(64), bytes: 12_000 },
    pages: 2,
    ranges: [],
  };
  expect(smallerFontsSentence([keel], 1)).toBe('One font: 12 KB in the place of 80 KB.');
  expect(smallerFontsSentence([keel], 2)).toBe(
    'One font: 12 KB in the place of 80 KB. One more font is smaller, and not in the plan.',
  );
  expect(smallerFontsSentence([], 1)).toBe('The font that is smaller is not in the plan.');
  expect(smallerFontsSentence([], 0)).toBe('No font that was looked at is smaller.');
});
