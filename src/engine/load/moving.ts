import { CELL, shareOf, type Areas } from '../../core/frames/areas.ts';
import type { MovingContent } from '../../core/measure/run.ts';
import type { Visit } from '../chromium/visit.ts';
import type { DecodedFrames } from './frames.ts';

/** More than this of the viewport masked leaves too little to judge by. */
export const MOST_MASKED = 0.1;
/** A few points are enough to name what moves. */
const MOST_POINTS = 40;

/** Finds content that keeps moving, names it, and takes the Speed Index with it masked; null when nothing moves. */
export async function nameMovingElements(
  visit: Visit,
  frames: DecodedFrames,
  { columns, moving }: Areas,
  windowMs: number,
): Promise<MovingContent | null> {
  const share = shareOf(moving);
  const picture = frames.last;
  if (share === 0 || !picture) return null;
  // The last column and row may reach beyond the picture.
  const middle = (cell: number, side: number) => Math.min(0.999, ((cell + 0.5) * CELL) / side);
  const points = moving
    .flatMap((moves, cell) =>
      moves
        ? [
            {
              x: middle(cell % columns, picture.width),
              y: middle(Math.floor(cell / columns), picture.height),
            },
          ]
        : [],
    )
    .slice(0, MOST_POINTS);
  return {
    share,
    elements: await visit.inPage.call('elementsAt', points),
    maskedSpeedIndexMs: share > MOST_MASKED ? null : frames.speedIndexMasked(moving, columns, windowMs),
  };
}
