import { execFileSync } from 'node:child_process';
import { join } from 'node:path';

/** Where `./wistrel` and the tests have made the programs before anything started. */
const MADE = 'WISTREL_PROGRAMS';

/**
 * The code of a program as one file, made of its TypeScript source (`programs.ts`). Where nobody has made them, they
 * are made now, once in this process.
 *
 * @param source its file, seen from src/
 */
export function programFile(source: string): string {
  const folder = (process.env[MADE] ??= made());
  return join(folder, source.replace(/\.ts$/, '.js'));
}

function made(): string {
  // From the project's folder, so that it is right inside the built application too.
  const root = /* turbopackIgnore: true */ process.cwd();
  const args = ['--import', 'tsx', join(root, 'src', 'programs', 'make.ts')];
  return execFileSync(process.execPath, args, { cwd: root, encoding: 'utf8' }).trim();
}
