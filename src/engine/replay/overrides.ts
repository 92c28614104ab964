import type { NextAnswer } from '../../core/next/next-assets.ts';
import type { TreatedPage } from '../../core/treat/apply.ts';
import { bytesOfFile } from '../../core/treat/new-files.ts';
import type { Override } from './archive.ts';

/** What a treated arm serves in place of, or besides, the captured bytes. @param next what other pages' captures answer */
export function overridesOf(
  documentUrl: string,
  treated: Pick<TreatedPage, 'html' | 'files'>,
  next: readonly NextAnswer[] = [],
): Override[] {
  return [
    { url: documentUrl, mimeType: 'text/html', body: treated.html, isNew: false },
    ...treated.files.map((file) => ({
      url: file.url,
      mimeType: file.mimeType,
      body: bytesOfFile(file),
      isNew: file.isNew,
    })),
    ...next.map(({ exchange, body }) => ({
      url: exchange.url,
      mimeType: exchange.mimeType,
      body,
      isNew: true,
      elsewhere: exchange,
    })),
  ];
}
