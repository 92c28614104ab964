import { NO_SETTINGS, type Treatment } from '../treatment.ts';

/**
 * The script runs when it did, and is asked for ahead of others: browsers take it that nothing waits for what is async
 * or deferred (HTML, "fetch priority").
 */
export const scriptEarly: Treatment<'script'> = {
  id: 'early',
  kind: 'script',
  label: 'asked for early',
  risk: { level: 'low', why: 'files are asked for sooner, and nothing else changes' },
  settings: NO_SETTINGS,
  onlySooner: true,
  isFor: ({ element: { url, element }, blocking }) =>
    url !== null && !blocking && element.attributes['fetchpriority'] !== 'high',
  refuses: () => null,
  note: () => 'it goes ahead of what is on its way besides',
  contributes: ({ element: { element } }) => ({
    elements: [{ element, attributes: { fetchpriority: 'high' } }],
  }),
};
