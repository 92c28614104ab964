import { addressIn, newFile } from '../new-files.ts';
import { findingIn, placeOf, tiedToPlace } from '../places.ts';
import { ownFileRefusal } from '../policy.ts';
import { NO_SETTINGS, type Treatment } from '../treatment.ts';

/** An inline script becomes a deferred file, in its order: defer does nothing inline. */
export const afterLibraries: Treatment<'script'> = {
  id: 'after-libraries',
  kind: 'script',
  label: 'after the libraries',
  risk: { level: 'low', why: 'it runs later, in its order, and its text becomes a file' },
  settings: NO_SETTINGS,
  moment: 'parsed',
  readersFollow: ['after-libraries', 'waits'],
  // A module is deferred as it is, and imports by addresses that are taken from the page's.
  isFor: ({ element: { url, module } }) => url === null && !module,
  refuses(script, { page }) {
    const nonce = script.element.element.attributes['nonce'] ?? null;
    const tied = tiedToPlace(script) ?? ownFileRefusal(page, 'script', nonce);
    if (tied) return tied;
    const visit = findingIn(script, 'visit-data');
    if (visit) return { code: 'visit-data', place: placeOf(script, visit) };
    const current = findingIn(script, 'currentScript');
    return current ? { code: 'current-script', place: placeOf(script, current) } : null;
  },
  note: () => 'becomes an external deferred file, in its order',
  contributes({ element: { element } }, { page }) {
    const file = newFile(page, 'inline', 'js', 'text/javascript', element.text);
    const attributes: Record<string, string> = { defer: '', src: addressIn(page, file.url) };
    // The file is UTF-8, and would be taken to be encoded as the page is.
    if (page.document.encoding !== 'utf-8') attributes['charset'] = 'utf-8';
    return { files: [file], elements: [{ element, attributes, content: '' }] };
  },
};
