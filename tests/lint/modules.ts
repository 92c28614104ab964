import { existsSync, readdirSync, statSync } from 'node:fs';
import { dirname, join, resolve } from 'node:path';

export const SOURCE = resolve(import.meta.dirname, '../../src');

/** The project's modules, without its tests. */
export const MODULES = readdirSync(SOURCE, { recursive: true, encoding: 'utf8' })
  .filter((name) => /\.tsx?$/.test(name) && !/\.test\./.test(name))
  .map((name) => join(SOURCE, name));

/** The module of ours that an import means; null for a package. */
export function moduleOf(written: string, from: string): string | null {
  const path = written.startsWith('@/')
    ? join(SOURCE, written.slice(2))
    : written.startsWith('.')
      ? resolve(dirname(from), written)
      : null;
  if (path === null) return null;
  const found = [path, `${path}.ts`, `${path}.tsx`, join(path, 'index.ts')].find(
    (one) => existsSync(one) && statSync(one).isFile(),
  );
  return found ?? null;
}
