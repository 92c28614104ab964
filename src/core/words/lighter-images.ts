import { bytesNow, bytesOn, LAPTOP, PHONE, type LighterImages, type StaysReason } from '../images/lighter.ts';
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
  const on = SCREENS.map(({ name, width, density }) => {
    const sum = (of: typeof bytesOn) => images.reduce((all, one) => all + of(one, width, density), 0);
    return { name, now: sum(bytesNow), lighter: sum(bytesOn) };
  });
  const count = images.length === 1 ? 'One image' : `${images.length} images`;
  // Where markup chooses between files, screens have different ones as it is.
  if (new Set(on.map(({ now }) => now)).size > 1)
    return `${count}: ${on.map(({ name, now, lighter }) => `${bytes(lighter)} on ${name} in the place of ${bytes(now)}`).join(', ')}.`;
  const each = on.map(({ name, lighter }) => `${bytes(lighter)} on ${name}`);
  return `${count}: ${each.join(', ')}, in the place of ${bytes(on[0]!.now)}.`;
}
