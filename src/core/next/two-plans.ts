import type { TreatedPage } from '../treat/apply.ts';
import { bytesOfFile } from '../treat/new-files.ts';

type Files = Pick<TreatedPage, 'files'>;

/**
 * The address of the first file that two pages' plans make different ones of, or null: only one can lie there, so
 * these plans cannot be delivered at once.
 */
export function madeDifferently(one: Files, other: Files): string | null {
  const known = new Map(one.files.map((file) => [file.url, file]));
  const found = other.files.find((file) => {
    const same = known.get(file.url);
    return same !== undefined && !isSame(bytesOfFile(same), bytesOfFile(file));
  });
  return found?.url ?? null;
}

function isSame(a: Uint8Array, b: Uint8Array): boolean {
  return a.length === b.length && a.every((byte, at) => byte === b[at]);
}
