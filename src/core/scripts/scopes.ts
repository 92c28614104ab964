import type { AnyNode, Program } from 'acorn';
import { analyze, type Scope, type Variable } from 'eslint-scope';

export type { Variable } from 'eslint-scope';

/** What is declared in a script, and which identifiers mean it. */
export interface Variables {
  /** What its top declares: global names, unless it is a module. */
  top: ReadonlyMap<string, Variable>;
  /** The variable that an identifier means; null for one that is declared nowhere in the script. */
  named(identifier: AnyNode & { name: string }): Variable | null;
}

/**
 * The scopes of a script.
 *
 * @param program as acorn parsed it, with ranges; the node types are those of ESTree
 */
export function variablesOf(program: Program, kind: 'script' | 'module'): Variables {
  const { scopes } = analyze(program as Parameters<typeof analyze>[0], {
    ecmaVersion: 2025 as 2022,
    sourceType: kind,
    ignoreEval: true,
    fallback: 'iteration',
  });
  const meant = new Map<unknown, Variable>();
  const outermost = scopes.find((scope) => scope.type === kind) ?? scopes[0]!;
  const top = new Map(outermost.set);
  for (const scope of scopes) {
    for (const variable of scope.variables) {
      for (const identifier of variable.identifiers) meant.set(identifier, variable);
      if (isHoistedOut(scope, variable, outermost)) top.set(variable.name, variable);
    }
    for (const { identifier, resolved } of scope.references) if (resolved) meant.set(identifier, resolved);
  }
  return {
    top,
    // The names of the global scope are open to other scripts, so that their uses are not tied to it.
    named: (identifier) => meant.get(identifier) ?? top.get(identifier.name) ?? null,
  };
}

const BLOCKS = new Set(['block', 'for', 'switch', 'catch', 'with']);

/**
 * Whether a function that stands in a block is a name of the whole script too (ECMAScript, B.3.2.2: changes to
 * GlobalDeclarationInstantiation): not in strict code, and not where a block around it declares the name otherwise.
 */
function isHoistedOut(scope: Scope, { name, defs }: Variable, outermost: Scope): boolean {
  if (!BLOCKS.has(scope.type) || scope.isStrict || !defs.some(({ type }) => type === 'FunctionName'))
    return false;
  for (let around = scope.upper; around; around = around.upper) {
    if (around === outermost) return outermost.type === 'global' && !outermost.set.has(name);
    if (!BLOCKS.has(around.type) || around.set.has(name)) return false;
  }
  return false;
}
