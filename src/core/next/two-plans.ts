import type { TreatedPage } from '../treat/apply.ts';
import type { NewFile } from '../treat/contribution.ts';
import { bytesOfFile } from '../treat/new-files.ts';

type Files = Pick<TreatedPage, 'files'>;

/** How wide and high a fallback is set: each page's is fitted to its own text, and stands in well for the other's. */
const FITS = /\b(size-adjust|ascent-override|descent-override|line-gap-override):[\d.]+%/g;

/**
 * The address of the first file that two pages' plans make different ones of, or null: only one can lie there, so
 * these plans cannot be delivered at once. Sheets that differ in nothing but how fallbacks are fitted are one.
 */
export function madeDifferently(one: Files, other: Files): string | null {
  const known = new Map(one.files.map((file) => [file.url, file]));
  const found = other.files.find((file) => {
    const same = known.get(file.url);
    return same !== undefined && !isSame(same, file);
  });
  return found?.url ?? null;
}

function isSame(one: NewFile, other: NewFile): boolean {
  const isSheet = [one, other].every(({ mimeType }) => mimeType === 'text/css');
  const [a, b] = [one, other].map(bytesOfFile) as [Uint8Array, Uint8Array];
  if (isSheet) return plain(a) === plain(b);
  return a.length === b.length && a.every((byte, at) => byte === b[at]);
}

function plain(sheet: Uint8Array): string {
  return new TextDecoder().decode(sheet).replace(FITS, '$1');
}
