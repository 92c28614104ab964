import { bytesOn, LAPTOP, PHONE, type LighterImages, type StaysReason } from '../images/lighter.ts';
import { bytes } from '../path/words.ts';

const STAYS: Record<StaysReason, string> = {
  small: 'under 4 KB, there is nothing to be saved',
  drawing: 'a drawing has no pixels',
  animated: 'it moves, and is kept as it is',
  'not shown': 'it was shown at no width that was looked at',
  unreadable: 'it could not be read as a picture',
  'not lighter': 'no version of it was lighter and like it',
};

/** Why an image's file stays as it is. */
export function staysWords(why: StaysReason): string {
  return STAYS[why];
}

const SCREENS = [
  { name: 'a phone', ...PHONE },
  { name: 'a laptop', ...LAPTOP },
] as const;

/** What lighter versions of images save in all, as a sentence. */
export function lighterSentence({ images }: LighterImages): string {
  if (images.length === 0) return 'None of those that were looked at is lighter.';
  const before = images.reduce((sum, one) => sum + one.bytes, 0);
  const after = SCREENS.map(({ name, width, density }) => {
    const sum = images.reduce((all, one) => all + bytesOn(one, width, density), 0);
    return `${bytes(sum)} on ${name}`;
  });
  const count = images.length === 1 ? 'One image' : `${images.length} images`;
  return `${count}: ${after.join(', ')}, in the place of ${bytes(before)}.`;
}
