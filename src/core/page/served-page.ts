import type { Capture, Exchange } from '../measure/exchange.ts';
import type { TreatedPage } from '../treat/apply.ts';
import { bytesOfFile } from '../treat/new-files.ts';
import { CapturedPage, type BodySource } from './captured-page.ts';

/** A page as its treated arm serves it: its HTML and changed files in the place of the captured ones, new files beside them. */
export function servedPage(capture: Capture, bodies: BodySource, { html, files }: TreatedPage): CapturedPage {
  const own = new Map<string, Uint8Array>([[bodyName(capture.documentUrl), html]]);
  for (const file of files) own.set(bodyName(file.url), bytesOfFile(file));
  const page = capture.exchanges.find((one) => one.url === capture.documentUrl && one.bodyHash !== null);
  const put = (one: Exchange): Exchange => {
    const name = bodyName(one.url);
    return one.bodyHash !== null && own.has(name) ? { ...one, bodyHash: name } : one;
  };
  const added = page
    ? files
        .filter(({ isNew }) => isNew)
        .map(({ url, mimeType }): Exchange => ({ ...page, url, mimeType, kind: kindOf(mimeType) }))
    : [];
  const exchanges = [...capture.exchanges, ...added].map(put);
  return new CapturedPage({ ...capture, exchanges }, (hash) => own.get(hash) ?? bodies(hash));
}

/** No hash of a stored body looks like it. */
const bodyName = (url: string) => `served ${url}`;

function kindOf(mimeType: string): Exchange['kind'] {
  if (mimeType.includes('font')) return 'font';
  return mimeType.includes('css') ? 'stylesheet' : mimeType.includes('javascript') ? 'script' : 'data';
}
