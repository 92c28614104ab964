import { readFileSync } from 'node:fs';
import { relative } from 'node:path';
import ts from 'typescript';
import { moduleOf, MODULES, SOURCE } from './modules.ts';

/** npm run lint: refuses screens whose script would bring along to the browser what reads captured pages. */

const STAYS_ON_THE_SERVER =
  /^(acorn|css-tree|eslint-scope|fontkit|lightningcss|parse5|postcss|postcss-.*|sharp|terser|tldts|@electric-sql\/pglite)(\/|$)/;

/** What a module needs when it runs: types are gone by then. */
function runtimeImports(file: string): string[] {
  const source = ts.createSourceFile(file, readFileSync(file, 'utf8'), ts.ScriptTarget.Latest);
  const found: string[] = [];
  const look = (node: ts.Node): void => {
    if (ts.isImportDeclaration(node) && ts.isStringLiteral(node.moduleSpecifier)) {
      const named = node.importClause?.namedBindings;
      const typesOnly =
        node.importClause?.isTypeOnly ||
        (!node.importClause?.name &&
          named &&
          ts.isNamedImports(named) &&
          named.elements.every((one) => one.isTypeOnly));
      if (!typesOnly) found.push(node.moduleSpecifier.text);
    } else if (ts.isExportDeclaration(node) && node.moduleSpecifier && !node.isTypeOnly) {
      found.push((node.moduleSpecifier as ts.StringLiteral).text);
    } else if (ts.isCallExpression(node) && node.expression.kind === ts.SyntaxKind.ImportKeyword) {
      const [address] = node.arguments;
      if (address && ts.isStringLiteral(address)) found.push(address.text);
    }
    ts.forEachChild(node, look);
  };
  look(source);
  return found;
}

/** From each module that the browser gets, the way on which it is reached. */
const reached = new Map<string, string[]>();
const queue = MODULES.filter((file) => /^\s*'use client'/.test(readFileSync(file, 'utf8')));
for (const file of queue) reached.set(file, [relative(SOURCE, file)]);
if (queue.length === 0) throw new Error('No module for the browser was found.');

let faults = 0;
for (let file = queue.shift(); file !== undefined; file = queue.shift()) {
  const way = reached.get(file)!;
  for (const written of runtimeImports(file)) {
    const next = moduleOf(written, file);
    if (next === null && STAYS_ON_THE_SERVER.test(written)) {
      console.error(`Goes to the browser: ${[...way, written].join(' → ')}`);
      faults++;
    } else if (next !== null && !reached.has(next)) {
      reached.set(next, [...way, relative(SOURCE, next)]);
      queue.push(next);
    }
  }
}
process.exitCode = faults > 0 ? 1 : 0;
