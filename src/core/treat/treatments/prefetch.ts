import { attribute } from '../../html/markup.ts';
import { fileNameOf } from '../../path/names.ts';
import { addressIn } from '../new-files.ts';
import { policyRefusal } from '../policy.ts';
import { PREFETCH_IDLE, WHEN_IDLE } from '../prefetch-idle.ts';
import { NO_SETTINGS, type Treatment } from '../treatment.ts';

/** Asked for once the page has loaded and rests: it is there when a visitor goes on. */
export const prefetch: Treatment<'next'> = {
  id: 'prefetch',
  kind: 'next',
  label: 'prefetched when idle',
  risk: { level: 'medium', why: 'who does not go on has received the bytes in vain' },
  settings: NO_SETTINGS,
  isFor: () => true,
  refuses: ({ objection }, { page }) => objection ?? policyRefusal(page, [['script']]),
  note: ({ as }) =>
    as === 'document'
      ? 'the server is asked for a page that may not be looked at, and what is shown may be minutes old'
      : null,
  contributes: ({ url, as, crossOrigin }, { page }) => ({
    endTags: [
      {
        title: `${fileNameOf(url)}: asked for when the page rests`,
        tag: `<link rel="${WHEN_IDLE}" as="${as}"${attribute('href', addressIn(page, url))}${attribute('crossorigin', crossOrigin)}>`,
      },
    ],
    endScripts: [{ title: 'What asks for them once the page rests', text: PREFETCH_IDLE }],
  }),
};
