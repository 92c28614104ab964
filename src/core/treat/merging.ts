import type { PageScript } from '../page/page-assets.ts';
import { fileNameOf } from '../path/names.ts';
import type { Contribution } from './contribution.ts';
import { movedScript, movedScriptRefusal } from './moved-files.ts';
import type { OneText, Refusal } from './refusal.ts';
import { scriptRow } from './rows.ts';
import { sharingOf } from './sharing.ts';
import type { Scene } from './treatment.ts';

/** Whether a script runs one straight after others of one's own, whose texts are all known. */
export function isInRow(script: PageScript, { page }: Scene): boolean {
  const row = scriptRow(script, page);
  return row.length > 0 && row.every((one) => page.captured.text(one.element.url!) !== null);
}

/** The others that would be in one file with a script. */
export function restOfRow(script: PageScript, { page }: Scene): readonly PageScript[] {
  return scriptRow(script, page).filter((one) => one !== script);
}

/** Why scripts in a row cannot be one file; null where they can. */
export function mergingRefusal(script: PageScript, scene: Scene): Refusal | null {
  return movedScriptRefusal(script, scene) ?? oneTextRefusal(scriptRow(script, scene.page), scene);
}

/** What has to be known of scripts in one file. */
export function mergingNote(script: PageScript, { page }: Scene): string {
  const names = scriptRow(script, page).map(({ element }) => fileNameOf(element.url!));
  return `${names.join(', ')} in one request; where one of them throws those after it do not run, and a change of one has visitors fetch all of them again`;
}

/** One file with all of a row, at the place of its first script; the others go. */
export function mergedFile(script: PageScript, scene: Scene): Contribution {
  const { page } = scene;
  const row = scriptRow(script, page);
  const { element, url } = script.element;
  if (script !== row[0]) return { elements: [{ element, gone: true }], takenOut: [url!] };
  // A comment at the end of one, and a statement that the next one would go on with, end here.
  const text = row.map((one) => page.captured.text(one.element.url!)!).join('\n;\n');
  return movedScript(script, scene, 'merged', text);
}

/** Why scripts would do something else in one text; null where they would not. */
function oneTextRefusal(row: readonly PageScript[], scene: Scene): Refusal | null {
  for (const [index, second] of row.entries())
    for (const first of row.slice(0, index)) {
      const why = differsIn(first, second, scene);
      if (why)
        return {
          code: 'one-text',
          first: fileNameOf(first.element.url!),
          second: fileNameOf(second.element.url!),
          why,
        };
    }
  return null;
}

function differsIn(first: PageScript, second: PageScript, { page }: Scene): OneText | null {
  if (first.facts.topLevel.strict !== second.facts.topLevel.strict) return { by: 'strict' };
  const { declared } = second.facts.topLevel;
  const before = [...first.facts.reads.map(({ name }) => name), ...first.facts.topLevel.declared];
  const name = before.find((one) => declared.has(one));
  if (name !== undefined) return { by: 'name', name };
  // What one does as soon as its own run is over comes, of two files, before the next one runs.
  const soon = sharingOf(page).find(
    (one) =>
      (one.writer === first && one.writerPhase === 'soon' && one.reader === second) ||
      (one.reader === first && one.readerPhase === 'soon' && one.writer === second),
  );
  if (!soon) return null;
  return { by: 'soon', name: 'name' in soon.what ? soon.what.name : `line ${soon.line}` };
}
