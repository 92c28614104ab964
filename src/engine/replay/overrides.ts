import type { TreatedPage } from '../../core/treat/apply.ts';
import type { Override } from './archive.ts';

/** What a treated arm serves in place of, or besides, the captured bytes. */
export function overridesOf(documentUrl: string, treated: TreatedPage): Override[] {
  return [
    { url: documentUrl, mimeType: 'text/html', body: treated.html, isNew: false },
    ...treated.files.map((file) => ({
      url: file.url,
      mimeType: file.mimeType,
      body: new TextEncoder().encode(file.text),
      isNew: file.isNew,
    })),
  ];
}
