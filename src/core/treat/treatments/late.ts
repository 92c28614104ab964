import type { PageStyle } from '../../page/page-assets.ts';
import type { ElementChange, HeadPart } from '../contribution.ts';
import { LATE_MEDIA, LATE_SWITCH } from '../late-switch.ts';
import { lateSwitchOf, policyRefusal } from '../policy.ts';
import { NO_SETTINGS, type Scene, type Treatment } from '../treatment.ts';

/** The stylesheet no longer blocks: it loads for print, and is for its own media once it is there. */
export const late: Treatment<'stylesheet'> = {
  id: 'late',
  kind: 'stylesheet',
  label: 'late',
  risk: { level: 'medium', why: 'what it styles above the fold is first seen without it' },
  settings: NO_SETTINGS,
  isFor: () => true,
  refuses: (_style, { page }) => policyRefusal(page, [['handler', 'script']]),
  note: () => 'until it has come the page is shown without it, and scripts that measure find other figures',
  contributes(style, scene) {
    const { change, headScripts } = lateLink(style, scene);
    return { elements: [change], headScripts };
  },
};

/** What makes a link late, and what of ours that needs. */
export function lateLink(
  { element: { element, media } }: PageStyle,
  { page }: Scene,
): { change: ElementChange; headScripts: HeadPart[] } {
  const own = media || 'all';
  const after = element.attributes['onload'];
  if (lateSwitchOf(page) === 'script')
    return {
      change: { element, attributes: { media: 'print', [LATE_MEDIA]: own }, fallback: true },
      headScripts: [{ text: LATE_SWITCH, title: 'What lets late stylesheets apply once they are there' }],
    };
  // What the author has done at this moment is done as well.
  const onload = `this.onload=null;this.media=${scriptString(own)}${after ? `;${after}` : ''}`;
  return { change: { element, attributes: { media: 'print', onload }, fallback: true }, headScripts: [] };
}

/** A string literal of a script that stands in an attribute. */
function scriptString(text: string): string {
  const escaped = text.replace(
    /[\\'\n\r\u2028\u2029<&]/g,
    (one) => `\\u${one.charCodeAt(0).toString(16).padStart(4, '0')}`,
  );
  return `'${escaped}'`;
}
