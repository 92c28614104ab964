import type { PageScript } from '../../page/page-assets.ts';
import { movedScript, movedScriptRefusal } from '../moved-files.ts';
import { NO_SETTINGS, type Scene, type Treatment } from '../treatment.ts';

/** A copy of another host's script, as it was captured, stands on one's own host: one connection less. */
export const ownHostScript: Treatment<'script'> = {
  id: 'own-host',
  kind: 'script',
  label: 'from one’s own host',
  risk: { level: 'medium', why: 'what its maker changes no longer arrives by itself' },
  settings: NO_SETTINGS,
  isFor: (script, scene) => isElsewhere(script, scene) && textOf(script, scene) !== null,
  refuses: movedScriptRefusal,
  note: () => 'what its maker changes no longer arrives by itself; whether it may be copied its licence says',
  contributes: (script, scene) => movedScript(script, scene, 'copy', textOf(script, scene)!),
};

/** Of another host, and no module: those import by addresses that are taken from their own. */
function isElsewhere({ element: { url, module } }: PageScript, { page }: Scene): boolean {
  return url !== null && !module && new URL(url).origin !== new URL(page.documentUrl).origin;
}

function textOf({ element: { url } }: PageScript, { page }: Scene): string | null {
  return url === null ? null : page.captured.text(url);
}
