import { embedWaitRefusal } from '../embed-waits.ts';
import { NO_SETTINGS, type Treatment } from '../treatment.ts';

/** It is asked for when a visitor comes near it (HTML: lazy loading). Its room is kept: an embed has a size without its page. */
export const embedLate: Treatment<'embed'> = {
  id: 'late',
  kind: 'embed',
  label: 'when scrolled near',
  risk: { level: 'low', why: 'it comes when it is scrolled near: who jumps there waits for it' },
  settings: NO_SETTINGS,
  isFor: ({ elements }) => elements.some(({ attributes }) => attributes['loading'] !== 'lazy'),
  refuses: embedWaitRefusal,
  note: () => 'above the fold of a screen of another shape it comes later',
  contributes: ({ url, elements }) => ({
    elements: elements.map((element) => ({ element, attributes: { loading: 'lazy' } })),
    takenOut: [url],
  }),
};
