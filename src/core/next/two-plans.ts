import type { TreatedPage } from '../treat/apply.ts';
import type { NewFile } from '../treat/contribution.ts';
import { bytesOfFile } from '../treat/new-files.ts';
import type { FileApart } from '../words/two-versions.ts';

type Files = Pick<TreatedPage, 'files'>;

/** How wide and high a fallback is set: each page's is fitted to its own text, and stands in well for the other's. */
const FITS = /\b(size-adjust|ascent-override|descent-override|line-gap-override):[\d.]+%/g;

/** A page as its plan treats it, with what it asks for. */
export interface Delivered extends Files {
  /** Addresses that it loads. */
  loads: ReadonlySet<string>;
}

/** The files that two pages' plans do not leave at one, as the first page sees it. */
export function filesApart(one: Delivered, other: Delivered): { url: string; apart: FileApart }[] {
  const mine = new Map(one.files.map((file) => [file.url, file]));
  const theirs = new Map(other.files.map((file) => [file.url, file]));
  type Found = { url: string; apart: FileApart }[];
  return [...new Set([...mine.keys(), ...theirs.keys()])].flatMap((url): Found => {
    const [here, there] = [mine.get(url), theirs.get(url)];
    if (here && there) {
      const apart = versionsOf(here, there);
      return apart ? [{ url, apart }] : [];
    }
    // What is new is nobody's but the plan's that brings it.
    if (here && !here.isNew && other.loads.has(url)) return [{ url, apart: 'changed here' }];
    if (there && !there.isNew && one.loads.has(url)) return [{ url, apart: 'changed there' }];
    return [];
  });
}

/**
 * The address of the first file that two pages' plans make different ones of, or null: such plans cannot be delivered
 * at once. Sheets that differ in nothing but how fallbacks are fitted are one.
 */
export function madeDifferently(one: Files, other: Files): string | null {
  const known = new Map(one.files.map((file) => [file.url, file]));
  const found = other.files.find((file) => {
    const same = known.get(file.url);
    return same !== undefined && versionsOf(same, file) === 'two files';
  });
  return found?.url ?? null;
}

/** How two files of one address differ; null where they do not. */
function versionsOf(one: NewFile, other: NewFile): 'two files' | 'two fits' | null {
  const [a, b] = [bytesOfFile(one), bytesOfFile(other)];
  if (a.length === b.length && a.every((byte, at) => byte === b[at])) return null;
  const areSheets = [one, other].every(({ mimeType }) => mimeType === 'text/css');
  return areSheets && plain(a) === plain(b) ? 'two fits' : 'two files';
}

function plain(sheet: Uint8Array): string {
  return new TextDecoder().decode(sheet).replace(FITS, '$1');
}
