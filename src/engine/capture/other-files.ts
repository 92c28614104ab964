import { picturesOf } from '../../core/html/assets.ts';
import { readHtml } from '../../core/html/document.ts';
import { headerOf } from '../../core/measure/headers.ts';
import type { Answer } from './intercept.ts';

/** Wider files than that no screen asks for that pages are looked at on: 1,920 px, or 820 px of two pixels each. */
const MOST_WIDTH = 2_048;
/** Screens of more pixels to a CSS pixel than that are rare. */
const MOST_DENSITY = 3;
/** A page of very many images would be captured for minutes. */
const MOST_FILES = 60;

/**
 * The files that a page's markup has for other screens (`srcset`), as none of them was asked for on this one: on
 * those the page is looked at as well, and would be without its images.
 */
export function otherFiles(
  answers: readonly Answer[],
  documentUrl: string,
  asked: ReadonlySet<string>,
): string[] {
  const page = answers.findLast(({ url, body }) => url === documentUrl && body !== null);
  if (!page) return [];
  const document = readHtml(page.body!, headerOf(page.headers, 'content-type') ?? '');
  const others = picturesOf(document, documentUrl).flatMap(({ set }) =>
    set ? set.files.filter(({ says }) => says <= (set.by === 'width' ? MOST_WIDTH : MOST_DENSITY)) : [],
  );
  const urls = others.map(({ url }) => url).filter((url) => /^https?:/.test(url) && !asked.has(url));
  return [...new Set(urls)].slice(0, MOST_FILES);
}
