import { keepingEarlyClicks } from '../early-clicks.ts';
import { waitingRefusal } from '../waiting.ts';
import { NO_SETTINGS, type Treatment } from '../treatment.ts';
import { AT_REST_LOADER, AT_REST_TYPE, waitingAttributes } from '../waiting-loaders.ts';

/** The script waits until the page has loaded and its main thread rests, and needs no visitor for that. */
export const atRest: Treatment<'script'> = {
  id: 'at-rest',
  kind: 'script',
  label: 'once the page rests',
  risk: { level: 'medium', why: 'it runs once the page rests: what it does is not there before' },
  settings: NO_SETTINGS,
  moment: 'later',
  readersFollow: ['at-rest'],
  togetherBecomes: () => 'at-rest',
  isFor: () => true,
  refuses: waitingRefusal,
  note: () => 'runs by itself after load, so that visits without a touch are counted as well',
  contributes(script, scene) {
    return {
      headScripts: [
        ...keepingEarlyClicks(script, scene),
        { text: AT_REST_LOADER, title: 'What runs scripts once the page rests' },
      ],
      elements: [
        { element: script.element.element, attributes: waitingAttributes(script, scene, AT_REST_TYPE) },
      ],
    };
  },
};
