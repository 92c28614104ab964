import type { PageScript } from '../../page/page-assets.ts';
import { bytes } from '../../path/words.ts';
import { minifiedScript } from '../../scripts/minify.ts';
import { movedScript, movedScriptRefusal } from '../moved-files.ts';
import { isWorthIt } from '../shorter.ts';
import { NO_SETTINGS, type Scene, type Treatment } from '../treatment.ts';

/** A script of one's own without comments and white space: it does the same, and is there sooner. */
export const minifiedScriptFile: Treatment<'script'> = {
  id: 'minified',
  kind: 'script',
  label: 'minified',
  risk: { level: 'low', why: 'it is the same script in fewer bytes' },
  settings: NO_SETTINGS,
  isFor: (script, scene) => shorter(script, scene) !== null,
  refuses: movedScriptRefusal,
  note(script, scene) {
    const { before, after } = shorter(script, scene)!;
    return `${bytes(before.length - after.length)} of its ${bytes(before.length)} are comments and white space; names stay as they are`;
  },
  contributes: (script, scene) => movedScript(script, scene, 'min', shorter(script, scene)!.after),
};

function shorter(
  { element: { url, module }, party }: PageScript,
  { page }: Scene,
): { before: string; after: string } | null {
  if (url === null || module || party !== 'first') return null;
  const before = page.captured.text(url);
  const after = before === null ? null : minifiedScript(before);
  return before !== null && after !== null && isWorthIt(before, after) ? { before, after } : null;
}
