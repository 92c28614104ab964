import { expect, it } from 'vitest';
import type { Picture } from './completeness.ts';
import { redrawnShare } from './redrawn.ts';

const SIDE = 40;

/** Four cells by four; each drawn by a pattern of its place: undefined for nothing. */
function frame(
  draw: (column: number, row: number) => ((x: number, y: number) => number) | undefined,
): Picture {
  const rgb = new Uint8Array(SIDE * SIDE * 3).fill(255);
  for (let y = 0; y < SIDE; y++)
    for (let x = 0; x < SIDE; x++) {
      const pattern = draw(Math.floor(x / 10), Math.floor(y / 10));
      if (pattern) rgb.fill(pattern(x, y), (y * SIDE + x) * 3, (y * SIDE + x) * 3 + 3);
    }
  return { width: SIDE, height: SIDE, rgb };
}

const words = (x: number, y: number) => ((x + y) % 3 === 0 ? 30 : 250);
const otherWords = (x: number, y: number) => ((x + y) % 3 === 1 ? 30 : 250);
const plain = () => 40;
const still = Array<boolean>(16).fill(false);
const blank = frame(() => undefined);

it('is what shows something first and something else in the end', () => {
  const first = frame((_column, row) => (row === 0 ? words : undefined));
  const jumped = frame((_column, row) => (row === 0 ? otherWords : words));
  expect(redrawnShare([blank, first, jumped], still)).toBe(4 / 16);
  // What comes later where nothing was is late, and not drawn otherwise.
  const filled = frame(() => words);
  expect(redrawnShare([blank, first, filled], still)).toBe(0);
});

it('is not what was a plain surface first, what never rests, or a page that shows nothing', () => {
  const surface = frame((_column, row) => (row === 0 ? plain : undefined));
  const filled = frame(() => words);
  expect(redrawnShare([blank, surface, filled], still)).toBe(0);
  const first = frame((_column, row) => (row === 0 ? words : undefined));
  const turned = frame((column, row) =>
    row === 0 && column === 1 ? otherWords : row === 0 ? words : undefined,
  );
  expect(redrawnShare([first, turned], still)).toBe(1 / 16);
  expect(
    redrawnShare(
      [first, turned],
      still.map((_one, cell) => cell === 1),
    ),
  ).toBe(0);
  expect(redrawnShare([blank], still)).toBe(0);
  expect(redrawnShare([], [])).toBe(0);
});
