import type { PageAssets } from '../page/page-assets.ts';
import { fileNameOf } from '../path/names.ts';
import type { NewFile } from './contribution.ts';
import { checksum } from './plan.ts';

/** Folder, on the page's own host, of the files that treating makes. */
export const NEW_FILES = '/wistrel/';

/** A file that stands beside the page's own. Its name says what it holds, so that it may be kept for good. */
export function newFile(
  page: PageAssets,
  stem: string,
  extension: string,
  mimeType: string,
  content: string | Uint8Array,
): NewFile {
  const sum = typeof content === 'string' ? checksum(content) : sumOf(content);
  const name = `${stem}-${sum.toString(16).padStart(8, '0')}.${extension}`;
  return { url: new URL(NEW_FILES + name, page.documentUrl).href, mimeType, content };
}

/** What a file made of another is called by: that one's name, of plain letters, without what follows its last point. */
export function stemOf(url: string): string {
  return fileNameOf(url)
    .replace(/\.[^.]*$/, '')
    .replace(/[^\w-]+/g, '-')
    .slice(0, 40);
}

/** Plans are applied again and again, and the same bytes put in: they are summed once. */
const sums = new WeakMap<Uint8Array, number>();

function sumOf(content: Uint8Array): number {
  let sum = sums.get(content);
  if (sum === undefined) sums.set(content, (sum = checksum(new TextDecoder('latin1').decode(content))));
  return sum;
}

/** A file as it is served. */
export function bytesOfFile({ content }: Pick<NewFile, 'content'>): Uint8Array {
  return typeof content === 'string' ? new TextEncoder().encode(content) : content;
}

/** An address as it is written in the page: a path where the page's base is of the same origin. */
export function addressIn(page: PageAssets, url: string): string {
  const absolute = new URL(url);
  // A path is taken from where the page's <base> says, which may be another host.
  const base = new URL(page.captured.baseUrl);
  return absolute.origin === base.origin ? absolute.pathname + absolute.search : url;
}
