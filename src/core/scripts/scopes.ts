import type { AnyNode, Program } from 'acorn';
import { fullAncestor } from 'acorn-walk';

/** For each node that opens a scope, the names declared in it. */
export type Scopes = Map<AnyNode, Set<string>>;

/** Collects what every scope of a script declares. */
export function scopesOf(program: Program): Scopes {
  const scopes: Scopes = new Map([[program, new Set<string>()]]);
  const names = (node: AnyNode) => {
    let set = scopes.get(node);
    if (!set) scopes.set(node, (set = new Set()));
    return set;
  };
  const isFunction = (node: AnyNode) => /Function|^Program$/.test(node.type);
  const isBlock = (node: AnyNode) =>
    isFunction(node) || /^(BlockStatement|For|CatchClause|Class|SwitchStatement|StaticBlock)/.test(node.type);
  fullAncestor(program, (node, _state, ancestors) => {
    const outer = (test: (n: AnyNode) => boolean) => ancestors.slice(0, -1).findLast(test) ?? program;
    if (node.type === 'VariableDeclaration') {
      const home = names(node.kind === 'var' ? outer(isFunction) : outer(isBlock));
      for (const one of node.declarations) for (const name of patternNames(one.id)) home.add(name);
    } else if (node.type === 'FunctionDeclaration' || node.type === 'ClassDeclaration') {
      if (node.id) names(outer(isBlock)).add(node.id.name);
    } else if (node.type.startsWith('Import') && 'local' in node) {
      names(program).add((node.local as { name: string }).name);
    }
    if ('params' in node) {
      const own = names(node);
      for (const param of node.params) for (const name of patternNames(param)) own.add(name);
      own.add('arguments');
    }
    if ((node.type === 'FunctionExpression' || node.type === 'ClassExpression') && node.id)
      names(node).add(node.id.name);
    if (node.type === 'CatchClause' && node.param)
      for (const name of patternNames(node.param)) names(node).add(name);
  });
  return scopes;
}

/** The scope, among a node's ancestors, that declares a name; undefined for a global. */
export function declaringScope(
  name: string,
  ancestors: readonly AnyNode[],
  scopes: Scopes,
): AnyNode | undefined {
  return ancestors.findLast((node) => scopes.get(node)?.has(name));
}

function patternNames(node: AnyNode): string[] {
  switch (node.type) {
    case 'Identifier':
      return [node.name];
    case 'ObjectPattern':
      return node.properties.flatMap((p) => patternNames(p.type === 'Property' ? p.value : p.argument));
    case 'ArrayPattern':
      return node.elements.flatMap((e) => (e ? patternNames(e) : []));
    case 'AssignmentPattern':
      return patternNames(node.left);
    case 'RestElement':
      return patternNames(node.argument);
    default:
      return [];
  }
}
