import { isAskedBy } from '../../page/page-assets.ts';
import { hidingOf, hidingStays } from '../hiding.ts';
import { NO_SETTINGS, type Treatment } from '../treatment.ts';

/** The script is gone, and with it what an inline one made the page ask for. */
export const leftOutScript: Treatment<'script'> = {
  id: 'left-out',
  kind: 'script',
  label: 'left out',
  risk: { level: 'high', why: 'what it does is gone' },
  settings: NO_SETTINGS,
  moment: 'never',
  togetherBecomes: () => 'left-out',
  isFor: () => true,
  refuses: (script, scene) => hidingStays(script, scene),
  note: (script, scene) => (hidingOf(script, scene) ? 'the snippet that hides the page goes with it' : null),
  contributes: ({ element }, { page }) => ({
    elements: [{ element: element.element, gone: true }],
    takenOut:
      element.url !== null
        ? [element.url]
        : page.requests.flatMap((one) => (isAskedBy(one, page.documentUrl, element) ? [one.url] : [])),
  }),
};
