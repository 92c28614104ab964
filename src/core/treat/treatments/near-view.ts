import { keepingEarlyClicks } from '../early-clicks.ts';
import { elementsOf, notOnlyThere } from '../near-elements.ts';
import { NEAR_VIEW_LOADER, NEAR_VIEW_TYPE, NEAR_ELEMENTS, waitingAttributes } from '../waiting-loaders.ts';
import { waitingRefusal } from '../waiting.ts';
import { NO_SETTINGS, type Treatment } from '../treatment.ts';

/** The script waits until one of the elements that it works with is a screen away. What is near already waits for nothing. */
export const nearView: Treatment<'script'> = {
  id: 'near-view',
  kind: 'script',
  label: 'when its elements come near',
  risk: { level: 'medium', why: 'until its elements come near what it does is missing' },
  settings: NO_SETTINGS,
  moment: 'later',
  readersFollow: ['near-view'],
  togetherBecomes: () => 'near-view',
  isFor: (script, scene) => !script.element.module && elementsOf(script, scene).length > 0,
  refuses: (script, scene) => waitingRefusal(script, scene) ?? notOnlyThere(script, scene),
  note: (script, scene) =>
    `waits for ${elementsOf(script, scene).slice(0, 4).join(', ')}; where one of them is hidden once the page has loaded, it runs then`,
  contributes(script, scene) {
    return {
      headScripts: [
        ...keepingEarlyClicks(script, scene),
        { text: NEAR_VIEW_LOADER, title: 'What runs scripts when their elements come near' },
      ],
      elements: [
        {
          element: script.element.element,
          attributes: {
            ...waitingAttributes(script, scene, NEAR_VIEW_TYPE),
            [NEAR_ELEMENTS]: elementsOf(script, scene).join(', '),
          },
        },
      ],
    };
  },
};
