import { addressRefusal } from '../addresses.ts';
import { policyRefusal } from '../policy.ts';
import { NO_SETTINGS, type Scene, type Treatment } from '../treatment.ts';
import type { PageScript } from '../../page/page-assets.ts';

/** Larger ones cost more in every page than a request costs once. */
const MOST_BYTES = 4_096;

/** A small file of one's own that holds the parser stands in the page: it runs where it did, without a request. */
export const inlineScript: Treatment<'script'> = {
  id: 'inline',
  kind: 'script',
  label: 'inline',
  risk: { level: 'low', why: 'it comes with the page each time, and no cache keeps it' },
  settings: NO_SETTINGS,
  isFor: (script, scene) =>
    script.blocking && script.party === 'first' && !isListenedTo(script) && textOf(script, scene) !== null,
  refuses: (script, scene) => policyRefusal(scene.page, [['script']]) ?? addressRefusal(script, scene),
  note: () => 'runs where it did; it is no longer cached by itself',
  contributes(script, scene) {
    const { element, url } = script.element;
    return {
      elements: [
        {
          element,
          attributes: { src: null, integrity: null, crossorigin: null, charset: null },
          content: textOf(script, scene)!,
        },
      ],
      takenOut: [url!],
    };
  },
};

/** Nothing is told of an inline script: what the author does once the file is there would never be done. */
function isListenedTo({ element: { element } }: PageScript): boolean {
  return ['onload', 'onerror'].some((name) => element.attributes[name] !== undefined);
}

/** What would stand in the page; null for what cannot, or is too much. */
function textOf({ element: { url } }: PageScript, { page }: Scene): string | null {
  const text = url === null ? null : page.captured.text(url);
  if (text === null || new TextEncoder().encode(text).length > MOST_BYTES) return null;
  // The parser would end the element there (HTML, "restrictions for contents of script elements").
  if (/<\/script|<script|<!--/i.test(text)) return null;
  const isPlain = /^[\x00-\x7f]*$/.test(text);
  return isPlain || page.document.encoding === 'utf-8' ? text : null;
}
