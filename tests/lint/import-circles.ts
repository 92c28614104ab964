import { existsSync, readdirSync, readFileSync, statSync } from 'node:fs';
import { dirname, join, relative, resolve } from 'node:path';
import ts from 'typescript';

/** npm run lint: refuses modules that import each other in a circle, types included. */

const SOURCE = resolve(import.meta.dirname, '../../src');
const files = readdirSync(SOURCE, { recursive: true, encoding: 'utf8' })
  .filter((name) => /\.tsx?$/.test(name) && !/\.test\./.test(name))
  .map((name) => join(SOURCE, name));

function fileOf(written: string, from: string): string[] {
  const path = written.startsWith('@/')
    ? join(SOURCE, written.slice(2))
    : written.startsWith('.')
      ? resolve(dirname(from), written)
      : null;
  if (path === null) return [];
  const found = [path, `${path}.ts`, `${path}.tsx`, join(path, 'index.ts')].find(
    (one) => existsSync(one) && statSync(one).isFile(),
  );
  return found === undefined ? [] : [found];
}

const imports = new Map(
  files.map((file) => {
    const { importedFiles } = ts.preProcessFile(readFileSync(file, 'utf8'), true, true);
    return [file, importedFiles.flatMap(({ fileName }) => fileOf(fileName, file))];
  }),
);

/** A way from a module back to itself; null for none. */
function circleFrom(start: string): string[] | null {
  const cameFrom = new Map<string, string>();
  const queue = [start];
  for (let at = queue.shift(); at !== undefined; at = queue.shift()) {
    for (const next of imports.get(at) ?? []) {
      if (next === start) {
        const way = [at];
        while (way[0] !== start) way.unshift(cameFrom.get(way[0]!)!);
        return way;
      }
      if (cameFrom.has(next)) continue;
      cameFrom.set(next, at);
      queue.push(next);
    }
  }
  return null;
}

const circles = new Map<string, string[]>();
for (const file of files) {
  const way = circleFrom(file);
  if (way) circles.set([...way].sort().join(), way);
}
for (const way of circles.values())
  console.error(`Imports in a circle: ${way.map((one) => relative(SOURCE, one)).join(' → ')}`);
process.exitCode = circles.size > 0 ? 1 : 0;
