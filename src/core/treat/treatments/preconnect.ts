import { hostOf } from '../../path/names.ts';
import { connectionsTo, type Sort } from '../../hints/connections.ts';
import { hintedPage, hintsInVain, ownHints } from '../../hints/own-hints.ts';
import { attributeValue } from '../../html/markup.ts';
import { NO_SETTINGS, type Scene, type Treatment } from '../treatment.ts';

const CROSSORIGIN: Record<Sort, string> = { credentialed: '', anonymous: ' crossorigin' };

/** The connection to a host is made before it is asked for anything, of each sort that the page uses. */
export const preconnect: Treatment<'host'> = {
  id: 'preconnect',
  kind: 'host',
  label: 'preconnect',
  risk: { level: 'low', why: 'a connection is made sooner, and closed unused where nothing is asked' },
  settings: NO_SETTINGS,
  isFor: () => true,
  refuses({ origin }, scene) {
    const own = ownHints(hintedPage(scene.page)).find(
      (one) => one.origin === origin && one.rel === 'preconnect',
    );
    return own && missingTo(origin, scene).length === 0 ? { code: 'hinted', line: own.element.line } : null;
  },
  contributes({ origin }, scene) {
    const links = missingTo(origin, scene).map(
      (sort) => `<link rel="preconnect" href="${attributeValue(origin)}"${CROSSORIGIN[sort]}>`,
    );
    const inVain = hintsInVain(hintedPage(scene.page)).filter((one) => one.origin === origin);
    return {
      headTags: [{ title: `${hostOf(origin) || origin}: preconnect`, tag: links.join('\n') }],
      elements: inVain.map(({ element }) => ({ element, gone: true })),
    };
  },
};

/** The sorts of connection that the page uses and does not make ahead itself; where nothing is known of it, the common one. */
function missingTo(origin: string, { page }: Scene): Sort[] {
  const used = connectionsTo(page, origin);
  const own = ownHints(hintedPage(page)).filter((one) => one.origin === origin && one.rel === 'preconnect');
  return (used.length ? used : (['credentialed'] as const)).filter(
    (sort) => !own.some((one) => one.sort === sort),
  );
}
