import type { Pair } from '../trial/pair.ts';
import { LOOKS, pairsEnd, type PairsWish } from '../trial/looks.ts';

/** How the number of a trial's pairs came about, in sentences. */
export function looksWords(wish: PairsWish, pairs: readonly Pair[]): string {
  if (wish !== 'until clear') return `${wish} pairs were asked for.`;
  const { open, because } = pairsEnd(wish, pairs);
  const number = pairs.length;
  const before = open.length ? `after ${listed(open)} something was still open, ` : '';
  const end =
    because === 'clear'
      ? `after ${number} nothing was.`
      : because === 'time'
        ? `and after ${number} its time was over: something is open still.`
        : `and after ${number} something still is.`;
  return `As many pairs as it takes, ${LOOKS.at(-1)} at most: ${before}${end} The intervals allow for having looked so often: chance calls the paint or Speed Index in at most one trial of twenty.`;
}

function listed(numbers: readonly number[]): string {
  return numbers.length < 2 ? `${numbers[0]}` : `${numbers.slice(0, -1).join(', ')} and ${numbers.at(-1)}`;
}
