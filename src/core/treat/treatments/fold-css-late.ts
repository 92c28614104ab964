import type { PageStyle } from '../../page/page-assets.ts';
import { fileNameOf } from '../../path/names.ts';
import type { NewFile } from '../contribution.ts';
import { addressIn, newFile } from '../new-files.ts';
import { policyRefusal } from '../policy.ts';
import { NO_SETTINGS, type Scene, type Treatment } from '../treatment.ts';
import { lateLink } from './late.ts';

/** The rules that the fold needs stand in the sheet's place; the sheet itself, or what else it holds, arrives late. */
export const foldCssLate: Treatment<'stylesheet'> = {
  id: 'fold-css-late',
  kind: 'stylesheet',
  label: 'fold CSS + late',
  risk: {
    level: 'low',
    why: 'what the proof saw is the same; what it did not see comes styled a moment later',
  },
  settings: NO_SETTINGS,
  isFor: ({ element }) => element.url !== null,
  refuses(style, scene) {
    const policy = policyRefusal(scene.page, [['style'], ['handler', 'script']]);
    if (policy) return policy;
    const { url } = style.element;
    if (!foldOf(url, scene))
      return { code: scene.page.captured.text(url!) === null ? 'sheet-not-captured' : 'no-fold-css' };
    return scene.foldUsable ? null : { code: 'fold-not-proved' };
  },
  contributes(style, scene) {
    const { url, media } = style.element;
    const fold = foldOf(url, scene)!;
    const { change, headScripts } = lateLink(style, scene);
    const file = restOf(style, scene);
    const instead = file && {
      href: addressIn(scene.page, file.url),
      // What is said of the author's file says nothing of this one.
      integrity: null,
      crossorigin: null,
    };
    return {
      elements: [
        {
          ...change,
          attributes: { ...change.attributes, ...instead },
          ...(fold.css ? { styleBefore: { css: fold.css, media } } : {}),
        },
      ],
      headScripts,
      ...(file ? { files: [file], takenOut: [url!] } : {}),
    };
  },
};

/** What is loaded late in a sheet's place; null where it is the sheet itself. */
export function restOf({ element: { url } }: PageStyle, scene: Scene): NewFile | null {
  const rest = foldOf(url, scene)?.rest ?? null;
  return rest === null ? null : newFile(scene.page, `rest-of-${stemOf(url!)}`, 'css', 'text/css', rest);
}

function foldOf(url: string | null, { fold }: Scene) {
  return fold.find((one) => one.url === url);
}

function stemOf(url: string): string {
  return fileNameOf(url)
    .replace(/\.css$/i, '')
    .replace(/[^\w-]+/g, '-')
    .slice(0, 40);
}
