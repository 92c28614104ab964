import { readFileSync } from 'node:fs';
import { relative } from 'node:path';
import ts from 'typescript';
import { moduleOf, MODULES, SOURCE } from './modules.ts';

/** npm run lint: refuses modules that import each other in a circle, types included. */

const imports = new Map(
  MODULES.map((file) => {
    const { importedFiles } = ts.preProcessFile(readFileSync(file, 'utf8'), true, true);
    return [file, importedFiles.flatMap(({ fileName }) => moduleOf(fileName, file) ?? [])];
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
for (const file of MODULES) {
  const way = circleFrom(file);
  if (way) circles.set([...way].sort().join(), way);
}
for (const way of circles.values())
  console.error(`Imports in a circle: ${way.map((one) => relative(SOURCE, one)).join(' → ')}`);
process.exitCode = circles.size > 0 ? 1 : 0;
