import { readFileSync } from 'node:fs';
import { programFile } from '../../programs/program-file.ts';

const read = new Map<string, string>();

/**
 * A script of `src/in-page` as one text that pages can be given: an expression whose value holds its exports.
 *
 * @param file below that folder; `programs.ts` lists them
 */
export function bundleOf(file: string): string {
  let text = read.get(file);
  if (text === undefined)
    read.set(file, (text = readFileSync(programFile(`in-page/${file}`), 'utf8').trim()));
  return text;
}
