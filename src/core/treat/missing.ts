import type { PageAssets } from '../page/page-assets.ts';
import { fileNameOf } from '../path/names.ts';

/** Addresses of scripts and stylesheets that the page asks for and the capture does not hold. */
export function missingFiles({ scripts, styles, captured }: PageAssets): string[] {
  const urls = [...scripts, ...styles].flatMap(({ element: { url } }) => (url === null ? [] : [url]));
  return [...new Set(urls)].filter((url) => captured.text(url) === null);
}

/** What files that are missing keep from being done, as a sentence; null where none is. */
export function missingSentence(urls: readonly string[]): string | null {
  if (urls.length === 0) return null;
  const one = urls.length === 1;
  const names =
    urls.slice(0, 4).map(fileNameOf).join(', ') + (urls.length > 4 ? ` and ${urls.length - 4} more` : '');
  return `The capture does not hold ${names}, as ${one ? 'its host' : 'their hosts'} did not answer. What ${one ? 'it does' : 'they do'} cannot be known, so ${one ? 'it stays as it is' : 'they stay as they are'}, and no script changes places with ${one ? 'it' : 'them'}. Measure the page again when ${one ? 'it answers' : 'they answer'}.`;
}
