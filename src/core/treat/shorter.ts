/** Less than this is not worth a file of its own, characters. */
const LEAST_CHARACTERS = 1_024;

/** Of what was there as much as this has to go. */
const LEAST_SHARE = 0.1;

/** Whether a text is so much shorter than another one that a new file is worth it. */
export function isWorthIt(before: string, after: string): boolean {
  const saved = before.length - after.length;
  return saved >= LEAST_CHARACTERS && saved >= before.length * LEAST_SHARE;
}
