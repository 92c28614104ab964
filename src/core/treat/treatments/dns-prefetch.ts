import { attributeValue } from '../../html/markup.ts';
import { hintedPage, ownHints } from '../../hints/own-hints.ts';
import { hostOf } from '../../path/names.ts';
import { NO_SETTINGS, type Treatment } from '../treatment.ts';

/** The address of a host is looked up before it is asked for anything. */
export const dnsPrefetch: Treatment<'host'> = {
  id: 'dns-prefetch',
  kind: 'host',
  label: 'dns-prefetch',
  risk: { level: 'low', why: 'a name is looked up sooner' },
  settings: NO_SETTINGS,
  isFor: () => true,
  refuses({ origin }, { page }) {
    const own = ownHints(hintedPage(page)).find((one) => one.origin === origin);
    return own ? { code: 'hinted', line: own.element.line } : null;
  },
  contributes: ({ origin }) => ({
    headTags: [
      {
        title: `${hostOf(origin) || origin}: dns-prefetch`,
        tag: `<link rel="dns-prefetch" href="${attributeValue(origin)}">`,
      },
    ],
  }),
};
