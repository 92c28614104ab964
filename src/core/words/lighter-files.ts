import type { FontStays, SmallerFont } from '../fonts/smaller.ts';
import { bytesNow, bytesOn, LAPTOP, PHONE, type LighterImage, type StaysReason } from '../images/lighter.ts';
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

const FONT_STAYS: Record<FontStays, string> = {
  small: 'under 8 KB, there is little to be saved',
  unreadable: 'it could not be read as a font, or not be cut',
  scattered: 'the signs that the site needs lie too far apart to be named in a sheet',
  'not smaller': 'the signs that the site needs take nearly all of it',
};

/** Why a font's file stays as it is. */
export function fontStaysWords(why: FontStays): string {
  return FONT_STAYS[why];
}

const SCREENS = [
  { name: 'a phone', ...PHONE },
  { name: 'a laptop', ...LAPTOP },
] as const;

/** What the lighter versions that a plan puts into a page save in all, and how many it leaves out, as sentences. */
export function lighterSentence(used: readonly LighterImage[], made: number): string {
  if (made === 0) return 'No image that was looked at is lighter.';
  return leavingOut(used.length ? savingOf(used) : null, made - used.length, 'image', 'lighter');
}

/** The same of fonts with fewer signs. */
export function smallerFontsSentence(used: readonly SmallerFont[], made: number): string {
  if (made === 0) return 'No font that was looked at is smaller.';
  const sum = (of: (font: SmallerFont) => number) => used.reduce((all, one) => all + of(one), 0);
  const now = bytes(sum((one) => one.bytes));
  const smaller = bytes(sum((one) => one.smaller.bytes));
  const count = used.length === 1 ? 'One font' : `${used.length} fonts`;
  const saved = used.length ? `${count}: ${smaller} in the place of ${now}.` : null;
  return leavingOut(saved, made - used.length, 'font', 'smaller');
}

function leavingOut(
  saved: string | null,
  left: number,
  what: 'image' | 'font',
  how: 'lighter' | 'smaller',
): string {
  if (left === 0) return saved ?? '';
  if (saved !== null)
    return `${saved} ${left === 1 ? `One more ${what} is` : `${left} more ${what}s are`} ${how}, and not in the plan.`;
  return left === 1
    ? `The ${what} that is ${how} is not in the plan.`
    : `None of the ${left} ${what}s that are ${how} is in the plan.`;
}

function savingOf(images: readonly LighterImage[]): string {
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

/** What was made of embeds. */
export function embedPicturesSentence(count: number): string {
  return count === 1
    ? 'One embed has a picture for what may stand in its place until it is pressed.'
    : `${count} embeds have pictures for what may stand in their places until they are pressed.`;
}
