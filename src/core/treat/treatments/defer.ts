import { keepingEarlyClicks } from '../early-clicks.ts';
import { lineWords } from '../../words/refusals.ts';
import { findingIn, placeOf, tiedToPlace } from '../places.ts';
import { afterLibraries } from './after-libraries.ts';
import { NO_SETTINGS, type Treatment } from '../treatment.ts';

/** The parser no longer waits: the script runs after parsing, in its order, before DOMContentLoaded. */
export const defer: Treatment<'script'> = {
  id: 'defer',
  kind: 'script',
  label: 'defer',
  risk: { level: 'low', why: 'it runs in its order, before the page is said to be ready' },
  settings: NO_SETTINGS,
  moment: 'parsed',
  readersFollow: ['after-libraries', 'waits'],
  togetherBecomes(script, scene) {
    if (script.element.url !== null) return 'defer';
    return afterLibraries.refuses(script, scene) ? 'waits' : 'after-libraries';
  },
  isFor: ({ element }) => element.url !== null,
  refuses: tiedToPlace,
  note(script) {
    const ready = findingIn(script, 'ready-listener', 'load-listener');
    if (ready) return `its listener (${lineWords(placeOf(script, ready))}) is set in time`;
    const current = findingIn(script, 'currentScript');
    return current ? `currentScript (${lineWords(placeOf(script, current))}) still finds its element` : null;
  },
  // Of both, async counts (HTML, "prepare the script element").
  contributes: (script, scene) => ({
    headScripts: keepingEarlyClicks(script, scene),
    elements: [{ element: script.element.element, attributes: { defer: '', async: null } }],
  }),
};
