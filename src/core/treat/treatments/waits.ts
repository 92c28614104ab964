import { addressIn, newFile } from '../new-files.ts';
import { findingIn, placeOf, tiedToPlace } from '../places.ts';
import { nonceFor, ownFileRefusal, policyRefusal } from '../policy.ts';
import { NO_SETTINGS, type Treatment } from '../treatment.ts';

/** The type that keeps an inline script from running until the runner behind it does so. */
export const WAITING_TYPE = 'text/wistrel-waiting';

/** Deferred and behind an inline script that waits: it runs that script in its turn, in its own place. */
const RUNNER = `(function(d){
var old=d.currentScript.previousElementSibling;
while(old&&old.type!=='${WAITING_TYPE}')old=old.previousElementSibling;
if(!old)return;
var s=d.createElement('script');
for(var k=0;k<old.attributes.length;k++){var a=old.attributes[k];if(a.name!=='type')s.setAttribute(a.name,a.value);}
if(old.nonce)s.nonce=old.nonce;
s.text=old.text;
old.parentNode.replaceChild(s,old);
})(document);
`;

/** An inline script stays in the page, whatever it holds of one visit, and runs after parsing, in its order. */
export const waits: Treatment<'script'> = {
  id: 'waits',
  kind: 'script',
  label: 'inline, waits for the libraries',
  risk: { level: 'low', why: 'it runs later, in its order, after the libraries' },
  settings: NO_SETTINGS,
  moment: 'parsed',
  readersFollow: ['after-libraries', 'waits'],
  isFor: ({ element: { url, module } }) => url === null && !module,
  refuses(script, { page }) {
    const tied =
      tiedToPlace(script) ??
      policyRefusal(page, [['script']]) ??
      ownFileRefusal(page, 'script', nonceFor(page, 'script'));
    if (tied) return tied;
    const current = findingIn(script, 'currentScript');
    return current ? { code: 'current-script', place: placeOf(script, current) } : null;
  },
  note: () => 'stays inline, and runs in its order after the libraries',
  contributes({ element: { element } }, { page }) {
    const file = newFile(page, 'run-waiting', 'js', 'text/javascript', RUNNER);
    return {
      files: [file],
      elements: [
        { element, attributes: { type: WAITING_TYPE }, scriptAfter: { src: addressIn(page, file.url) } },
      ],
    };
  },
};
