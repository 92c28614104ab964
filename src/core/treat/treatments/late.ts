import { attribute } from '../../html/markup.ts';
import type { PageAssets, PageStyle } from '../../page/page-assets.ts';
import type { ElementChange, HeadScript } from '../contribution.ts';
import { LATE_MEDIA, LATE_SWITCH } from '../late-switch.ts';
import { lateSwitchOf, policyRefusal } from '../policy.ts';
import { NO_SETTINGS, type Scene, type Treatment } from '../treatment.ts';

/** The stylesheet no longer blocks: it loads for print, and is for its own media once it is there. */
export const late: Treatment<'stylesheet'> = {
  id: 'late',
  kind: 'stylesheet',
  label: 'late',
  settings: NO_SETTINGS,
  isFor: () => true,
  refuses: (_style, { page }) => policyRefusal(page, [['handler', 'script']]),
  contributes(style, scene) {
    const { change, headScripts } = lateLink(style, scene);
    return { elements: [change], headScripts, holds: holdsScripts(style, scene) };
  },
};

/** What makes a link late, and what of ours that needs. */
export function lateLink(
  { element: { element, media } }: PageStyle,
  { page }: Scene,
): { change: ElementChange; headScripts: HeadScript[] } {
  const own = media || 'all';
  const after = element.attributes['onload'];
  if (lateSwitchOf(page) === 'script')
    return {
      change: { element, attributes: { media: 'print', [LATE_MEDIA]: own }, fallback: true },
      headScripts: [{ code: LATE_SWITCH, title: 'What lets late stylesheets apply once they are there' }],
    };
  // What the author has done at this moment is done as well.
  const onload = `this.onload=null;this.media=${scriptString(own)}${after ? `;${after}` : ''}`;
  return { change: { element, attributes: { media: 'print', onload }, fallback: true }, headScripts: [] };
}

/**
 * What makes scripts wait for a late sheet as they did for the sheet as authored: a link to the same sheet at the end of
 * the body, in a shadow tree. What stands before it is painted meanwhile, but deferred scripts and DOMContentLoaded
 * wait for it (HTML, "the end").
 *
 * @param instead what is loaded in the sheet's place
 */
export function holdsScripts(
  { element: { element, media } }: PageStyle,
  { page }: Scene,
  instead: string | null = null,
): string[] {
  if (page.scripts.length === 0 || !endsPlainly(page)) return [];
  const authored = (name: string) => attribute(name, instead ? null : (element.attributes[name] ?? null));
  const href = attribute('href', instead ?? element.attributes['href'] ?? '');
  const more = ['integrity', 'crossorigin', 'referrerpolicy'].map(authored).join('');
  return [`<link rel="stylesheet"${href}${attribute('media', media || null)}${more}>`];
}

/** Whether a tag can be put at the end of the body: it is said where that is, or the file does not end within something. */
function endsPlainly({ document: { bytes, bodyEnd } }: PageAssets): boolean {
  if (bodyEnd < bytes.length) return true;
  const tail = new TextDecoder('latin1').decode(bytes.subarray(-200));
  return /<\/(body|html|script|main|footer|section|div|p)\s*>\s*$/i.test(tail);
}

/** A string literal of a script that stands in an attribute. */
function scriptString(text: string): string {
  const escaped = text.replace(
    /[\\'\n\r\u2028\u2029<&]/g,
    (one) => `\\u${one.charCodeAt(0).toString(16).padStart(4, '0')}`,
  );
  return `'${escaped}'`;
}
