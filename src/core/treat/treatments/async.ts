import { keepingEarlyClicks } from '../early-clicks.ts';
import { lineWords } from '../../words/refusals.ts';
import { findingIn, placeOf, tiedToPlace } from '../places.ts';
import { NO_SETTINGS, type Treatment } from '../treatment.ts';

/** Nothing waits for the script: it runs as soon as it has arrived. */
export const async: Treatment<'script'> = {
  id: 'async',
  kind: 'script',
  label: 'async',
  risk: { level: 'medium', why: 'it runs whenever it arrives, in no order' },
  settings: NO_SETTINGS,
  moment: 'any',
  isFor: ({ element }) => element.url !== null,
  refuses(script) {
    const tied = tiedToPlace(script);
    if (tied) return tied;
    const ready = findingIn(script, 'ready-listener', 'load-listener');
    return ready ? { code: 'event-is-over', place: placeOf(script, ready), certain: false } : null;
  },
  note(script) {
    const current = findingIn(script, 'currentScript');
    return current ? `currentScript (${lineWords(placeOf(script, current))}) still finds its element` : null;
  },
  contributes: (script, scene) => ({
    headScripts: keepingEarlyClicks(script, scene),
    elements: [{ element: script.element.element, attributes: { async: '' } }],
  }),
};
