import { execFileSync } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { mkdirSync, renameSync } from 'node:fs';
import { join } from 'node:path';

const built = new Map<string, string>();

/**
 * The code of a worker thread as one file, made of its TypeScript source once in a process: a thread that read
 * the source itself would take seconds to start.
 *
 * @param source its file, seen from src/
 */
export function threadFile(source: string): string {
  let file = built.get(source);
  if (!file) built.set(source, (file = bundle(source)));
  return file;
}

function bundle(source: string): string {
  // From the project's folder, so that it is right inside the built application too; packages are found from there.
  const root = /* turbopackIgnore: true */ process.cwd();
  const folder = join(root, 'node_modules', '.cache', 'wistrel');
  const file = join(folder, `${source.replace(/\.ts$/, '').replaceAll('/', '-')}.mjs`);
  // Another process may be starting on the file that is there.
  const own = `${file}.${randomUUID()}`;
  mkdirSync(folder, { recursive: true });
  execFileSync(join(root, 'node_modules', '.bin', 'esbuild'), [
    join(root, 'src', source),
    `--outfile=${own}`,
    '--bundle',
    '--packages=external',
    '--platform=node',
    '--format=esm',
    '--target=node20',
    '--sourcemap=inline',
    '--log-level=error',
  ]);
  renameSync(own, file);
  return file;
}
