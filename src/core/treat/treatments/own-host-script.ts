import type { PageScript } from '../../page/page-assets.ts';
import { addressIn, newFile } from '../new-files.ts';
import { findingIn, placeOf } from '../places.ts';
import { NO_SETTINGS, type Scene, type Treatment } from '../treatment.ts';

/** A copy of another host's script, as it was captured, stands on one's own host: one connection less. */
export const ownHostScript: Treatment<'script'> = {
  id: 'own-host',
  kind: 'script',
  label: 'from one’s own host',
  settings: NO_SETTINGS,
  isFor: (script, scene) => isElsewhere(script, scene) && textOf(script, scene) !== null,
  refuses(script) {
    const { unreadable } = script.facts;
    if (unreadable) return { code: 'unreadable', why: unreadable };
    // What looks for itself by its address finds another one.
    const current = findingIn(script, 'currentScript', 'last-script');
    return current ? { code: 'current-script', place: placeOf(script, current) } : null;
  },
  note: () => 'what its maker changes no longer arrives by itself; whether it may be copied its licence says',
  contributes(script, scene) {
    const { element, url } = script.element;
    const file = newFile(scene.page, 'copy', 'js', 'text/javascript', textOf(script, scene)!);
    const src = addressIn(scene.page, file.url);
    return {
      files: [file],
      elements: [{ element, attributes: { src, charset: 'utf-8', integrity: null, crossorigin: null } }],
      takenOut: [url!],
    };
  },
};

function isElsewhere({ element: { url } }: PageScript, { page }: Scene): boolean {
  return url !== null && new URL(url).origin !== new URL(page.documentUrl).origin;
}

function textOf({ element: { url } }: PageScript, { page }: Scene): string | null {
  return url === null ? null : page.captured.text(url);
}
