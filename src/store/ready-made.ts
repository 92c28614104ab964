import { createHash } from 'node:crypto';
import {
  cpSync,
  existsSync,
  mkdirSync,
  mkdtempSync,
  readFileSync,
  readdirSync,
  renameSync,
  rmSync,
} from 'node:fs';
import { dirname, join } from 'node:path';

/** The numbered changes of what is stored, in their order. */
export const MIGRATIONS = join(process.cwd(), 'src', 'store', 'migrations');

/** @returns their file names, in their order */
export function namesOfMigrations(): string[] {
  return readdirSync(MIGRATIONS)
    .filter((file) => file.endsWith('.sql'))
    .sort();
}

/**
 * Where a database lies that holds nothing yet, made beforehand: making one takes seconds, and copying it none. Its name
 * is of what it was made by, so that one of another version is never taken for it.
 */
function readyMade(): string {
  const modules = join(/* turbopackIgnore: true */ process.cwd(), 'node_modules');
  const hash = createHash('sha256');
  hash.update(readFileSync(join(modules, '@electric-sql', 'pglite', 'package.json')));
  for (const name of namesOfMigrations()) hash.update(name).update(readFileSync(join(MIGRATIONS, name)));
  return join(modules, '.cache', 'wistrel', 'database', hash.digest('hex').slice(0, 16));
}

/** Puts a database that holds nothing where there is none yet, if one was made beforehand. */
export function putReadyMade(files: string): void {
  if (existsSync(files)) return;
  const made = readyMade();
  if (existsSync(made)) copyWhole(made, files);
}

/**
 * Makes it, unless it is there already, and throws those of other versions away.
 *
 * @param fill makes a database in a data folder, and gives where in it that is
 */
export async function makeReadyMade(fill: (folder: string) => Promise<string>): Promise<void> {
  const made = readyMade();
  if (existsSync(made)) return;
  rmSync(dirname(made), { recursive: true, force: true });
  mkdirSync(dirname(made), { recursive: true });
  const folder = mkdtempSync(join(dirname(made), 'part-'));
  copyWhole(await fill(folder), made);
  rmSync(folder, { recursive: true, force: true });
}

/** A copy has its name only once it is whole; the one of before goes then. */
export function copyWhole(files: string, copy: string): void {
  const part = `${copy}.part`;
  rmSync(part, { recursive: true, force: true });
  cpSync(files, part, { recursive: true });
  rmSync(copy, { recursive: true, force: true });
  renameSync(part, copy);
}
