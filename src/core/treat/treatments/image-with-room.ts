import type { HtmlElement } from '../../html/document.ts';
import type { Contribution } from '../contribution.ts';
import { NO_SETTINGS, type Treatment } from '../treatment.ts';
import { imageEarly } from './image-early.ts';
import { imageLate, mayBeLate, whyNotLate } from './image-late.ts';
import { imageRoom, keepsRoom, saysNoSize } from './image-room.ts';

/** Early, and with its room kept until it is there. */
export const imageEarlyWithRoom: Treatment<'image'> = {
  id: 'early-with-room',
  kind: 'image',
  label: 'early + room kept',
  risk: { level: 'low', why: 'it is asked for sooner, and others give way to it' },
  settings: NO_SETTINGS,
  isFor: (image, scene) => imageEarly.isFor(image, scene) && imageRoom.isFor(image, scene),
  refuses: (image, scene) => imageEarly.refuses(image, scene) ?? imageRoom.refuses(image, scene),
  contributes: (image, scene) =>
    together(imageEarly.contributes(image, scene), imageRoom.contributes(image, scene)),
};

/** When scrolled near, with its room kept until it is there. */
export const imageLateWithRoom: Treatment<'image'> = {
  id: 'late-with-room',
  kind: 'image',
  label: 'when near + room kept',
  risk: { level: 'low', why: 'it comes when it is scrolled near: who jumps there waits for it' },
  settings: NO_SETTINGS,
  isFor: (image, scene) =>
    mayBeLate(image) && imageRoom.isFor(image, scene) && image.elements.every(keepsOrSaysNone),
  refuses: (image, scene) => whyNotLate(image) ?? imageRoom.refuses(image, scene),
  note: (image, scene) => imageLate.note!(image, scene),
  contributes: (image, scene) =>
    together(imageLate.contributes(image, scene), imageRoom.contributes(image, scene)),
};

/** Another would still jump when it comes. */
const keepsOrSaysNone = (element: HtmlElement) => keepsRoom(element) || saysNoSize(element);

/** What both do to the same elements. */
function together(one: Contribution, other: Contribution): Contribution {
  return {
    ...one,
    ...other,
    elements: one.elements!.map(({ element, attributes }) => ({
      element,
      attributes: {
        ...attributes,
        ...other.elements!.find((each) => each.element === element)?.attributes,
      },
    })),
  };
}
