/** What is taken of a page or a file at most. Each acts before its memory is used, where that can be known. */
export const BODY_LIMIT = 25_000_000;
export const CAPTURE_LIMIT = 250_000_000;
/** Requests of one load, and entries of a HAR file. */
export const MOST_REQUESTS = 5_000;

/** Why a body is not kept, as the end of a sentence about it; null where it is. */
export function tooLarge(bytes: number, taken: number): string | null {
  if (bytes > BODY_LIMIT) return 'is over 25 MB';
  return taken + bytes > CAPTURE_LIMIT ? 'would make the capture larger than 250 MB' : null;
}
