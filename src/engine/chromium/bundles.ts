import { join } from 'node:path';
import { buildSync } from 'esbuild';

const FOLDER = join(import.meta.dirname, '..', '..', 'in-page');
const built = new Map<string, string>();

/**
 * A script of `src/in-page` as one text that pages can be given: an expression whose value holds its exports.
 *
 * @param file below that folder
 */
export function bundleOf(file: string): string {
  let text = built.get(file);
  if (text === undefined) {
    const { outputFiles } = buildSync({
      entryPoints: [join(FOLDER, file)],
      bundle: true,
      // It is sent to every document.
      minify: true,
      write: false,
      format: 'iife',
      globalName: 'exported',
      target: 'chrome110',
      charset: 'ascii',
      logLevel: 'silent',
    });
    built.set(file, (text = `(() => { ${outputFiles[0]!.text}\nreturn exported; })()`));
  }
  return text;
}
