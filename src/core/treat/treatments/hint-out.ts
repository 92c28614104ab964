import { hintedPage, hintsInVain } from '../../hints/own-hints.ts';
import { inVainWords, vainHintFacts } from '../../words/hints.ts';
import { NO_SETTINGS, type Treatment } from '../treatment.ts';

/** What the page says of a host ahead, and helps nothing, goes. */
export const hintOut: Treatment<'host'> = {
  id: 'hint-out',
  kind: 'host',
  label: 'its useless hint out',
  risk: { level: 'low', why: 'what helped nothing is gone' },
  settings: NO_SETTINGS,
  isFor: ({ origin }, { page }) => hintsInVain(hintedPage(page)).some((one) => one.origin === origin),
  refuses: () => null,
  note: ({ origin }, { page }) =>
    hintsInVain(hintedPage(page))
      .filter((one) => one.origin === origin)
      .map((one) => inVainWords(vainHintFacts(one)))
      .join('; '),
  contributes: ({ origin }, { page }) => ({
    elements: hintsInVain(hintedPage(page))
      .filter((one) => one.origin === origin)
      .map(({ element }) => ({ element, gone: true })),
  }),
};
