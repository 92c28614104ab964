import type { HtmlHandler } from '../html/document.ts';
import type { PageAssets } from '../page/page-assets.ts';
import { namesReadBy } from '../scripts/analyse.ts';

/** The `on…` attributes of the page that read one of the names. */
export function handlersThatRead(page: PageAssets, names: readonly string[]): HtmlHandler[] {
  return page.document.handlers.filter(({ code }) => namesReadBy(code).some((read) => names.includes(read)));
}
