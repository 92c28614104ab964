import { NO_SETTINGS, type Treatment } from '../treatment.ts';

/** The stylesheet is gone. */
export const leftOutSheet: Treatment<'stylesheet'> = {
  id: 'left-out',
  kind: 'stylesheet',
  label: 'left out',
  risk: { level: 'high', why: 'what it styles is no longer styled' },
  settings: NO_SETTINGS,
  isFor: () => true,
  refuses: () => null,
  contributes: ({ element }) => ({
    elements: [{ element: element.element, gone: true }],
    takenOut: element.url === null ? [] : [element.url],
  }),
};
