import { attribute } from '../../html/markup.ts';
import type { PageAssets, PageStyle } from '../../page/page-assets.ts';
import { fileNameOf } from '../../path/names.ts';
import type { Contribution } from '../contribution.ts';
import { addressIn } from '../new-files.ts';
import { NO_SETTINGS, type Treatment } from '../treatment.ts';
import { foldCssLate, restOf } from './fold-css-late.ts';

/** Fold CSS and a late sheet for a page whose scripts measure what the sheet shapes: they wait for it as they did. */
export const foldCssHeld: Treatment<'stylesheet'> = {
  id: 'fold-css-held',
  kind: 'stylesheet',
  label: 'fold CSS + late, scripts wait',
  risk: {
    level: 'low',
    why: 'what the proof saw is the same; what it did not see comes styled a moment later',
  },
  settings: NO_SETTINGS,
  isFor: (style, scene) =>
    foldCssLate.isFor(style, scene) && scene.page.scripts.length > 0 && endsPlainly(scene.page),
  refuses: (style, scene) => foldCssLate.refuses(style, scene),
  note: () => 'scripts run as late as they did as authored',
  contributes(style, scene) {
    const file = restOf(style, scene);
    return {
      ...foldCssLate.contributes(style, scene),
      ...holdsScripts(style, file && addressIn(scene.page, file.url)),
    };
  },
};

/**
 * What makes scripts wait for a late sheet as they did for the sheet as authored: a link to the same sheet at the end of
 * the body, in a shadow tree. What stands before it is painted meanwhile, but deferred scripts and DOMContentLoaded
 * wait for it (HTML, "the end"). So that they do not wait longer than they have to, it is asked for at once, behind what
 * the first paint needs.
 *
 * @param instead what is loaded in the sheet's place
 */
function holdsScripts(
  { element: { element, media, url } }: PageStyle,
  instead: string | null,
): Pick<Contribution, 'holds' | 'headTags'> {
  const authored = (name: string) => attribute(name, instead ? null : (element.attributes[name] ?? null));
  const href = attribute('href', instead ?? element.attributes['href'] ?? '');
  const more =
    attribute('media', media || null) + ['integrity', 'crossorigin', 'referrerpolicy'].map(authored).join('');
  return {
    holds: [`<link rel="stylesheet"${href}${more}>`],
    headTags: [
      {
        title: `${fileNameOf(url!)}: asked for at once, behind what the first paint needs`,
        tag: `<link rel="preload" as="style"${href}${more} fetchpriority="low">`,
      },
    ],
  };
}

/** Whether a tag can be put at the end of the body: it is said where that is, or the file does not end within something. */
function endsPlainly({ document: { bytes, bodyEnd } }: PageAssets): boolean {
  if (bodyEnd < bytes.length) return true;
  const tail = new TextDecoder('latin1').decode(bytes.subarray(-200));
  return /<\/(body|html|script|main|footer|section|div|p)\s*>\s*$/i.test(tail);
}
