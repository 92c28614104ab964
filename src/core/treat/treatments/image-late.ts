import type { PageImage } from '../../images/page-images.ts';
import type { Refusal } from '../refusal.ts';
import { NO_SETTINGS, type Treatment } from '../treatment.ts';
import { keepsRoom } from './image-room.ts';

/** It is asked for when a visitor comes near it (HTML: lazy loading). */
export const imageLate: Treatment<'image'> = {
  id: 'late',
  kind: 'image',
  label: 'when scrolled near',
  risk: { level: 'low', why: 'it comes when it is scrolled near: who jumps there waits for it' },
  settings: NO_SETTINGS,
  isFor: (image) => mayBeLate(image),
  refuses: (image) =>
    whyNotLate(image) ?? (image.elements.every(keepsRoom) ? null : { code: 'keeps-no-room' }),
  note: () => 'above the fold of a screen of another shape it comes later',
  contributes: ({ elements, urls }) => ({
    elements: elements.map((element) => ({ element, attributes: { loading: 'lazy' } })),
    takenOut: urls,
  }),
};

/** Whether it is not late already, and nothing of the page's own waits for it. */
export function mayBeLate({ behind, elements }: PageImage): boolean {
  if (behind !== null) return false;
  return elements.every(
    ({ attributes }) =>
      attributes['loading'] !== 'lazy' &&
      attributes['onload'] === undefined &&
      attributes['onerror'] === undefined,
  );
}

/** Why an image may not come late; what cannot be known is a reason. */
export function whyNotLate({ aboveFold, isLargest }: PageImage): Refusal | null {
  if (aboveFold === null) return { code: 'fold-unknown' };
  return aboveFold || isLargest ? { code: 'above-fold' } : null;
}
