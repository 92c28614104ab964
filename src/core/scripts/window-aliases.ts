import type { AnyNode, Program } from 'acorn';
import { fullAncestor } from 'acorn-walk';
import { declaringScope, type Scopes } from './scopes.ts';

/** The names by which every script knows the global object. */
export const GLOBAL_OBJECTS = new Set(['window', 'self', 'globalThis', 'top', 'parent']);

type FunctionNode = AnyNode & { params: AnyNode[] };

/** What a binding may hold, as far as it matters here. */
interface Held {
  window: boolean;
  functions: Set<FunctionNode>;
}

/**
 * Finds the local names that hold the global object. Libraries are wrapped in functions that are given it
 * (`(function (root, factory) { factory(root) })(this, function (w) { w.lib = … })`), so what is passed is
 * followed through calls and variables until nothing new is found.
 *
 * @returns a test: does this expression, with these ancestors, hold the global object?
 */
export function windowAliases(
  program: Program,
  scopes: Scopes,
): (node: AnyNode, ancestors: readonly AnyNode[]) => boolean {
  const held = new Map<AnyNode, Map<string, Held>>();
  let grew = true;

  const bindingOf = (name: string, ancestors: readonly AnyNode[]): Held | null => {
    const scope = declaringScope(name, ancestors, scopes);
    return scope ? (held.get(scope)?.get(name) ?? null) : null;
  };
  const valueOf = (node: AnyNode, ancestors: readonly AnyNode[]): Held => {
    const value: Held = { window: false, functions: new Set() };
    const add = (other: Held | null) => {
      if (!other) return;
      value.window ||= other.window;
      for (const one of other.functions) value.functions.add(one);
    };
    switch (node.type) {
      case 'Identifier':
        if (GLOBAL_OBJECTS.has(node.name) && !declaringScope(node.name, ancestors, scopes))
          value.window = true;
        else add(bindingOf(node.name, ancestors));
        break;
      case 'ThisExpression':
        value.window = thisIsWindow(ancestors);
        break;
      case 'FunctionExpression':
      case 'ArrowFunctionExpression':
      case 'FunctionDeclaration':
        value.functions.add(node as FunctionNode);
        break;
      case 'ConditionalExpression':
        add(valueOf(node.consequent, ancestors));
        add(valueOf(node.alternate, ancestors));
        break;
      case 'LogicalExpression':
        add(valueOf(node.left, ancestors));
        add(valueOf(node.right, ancestors));
        break;
      case 'AssignmentExpression':
        add(valueOf(node.right, ancestors));
        break;
      case 'SequenceExpression':
        add(valueOf(node.expressions.at(-1)!, ancestors));
        break;
      default:
    }
    return value;
  };
  const give = (scope: AnyNode | undefined, name: string, value: Held) => {
    if (!scope || (!value.window && value.functions.size === 0)) return;
    let names = held.get(scope);
    if (!names) held.set(scope, (names = new Map()));
    let known = names.get(name);
    if (!known) names.set(name, (known = { window: false, functions: new Set() }));
    if (value.window && !known.window) {
      known.window = true;
      grew = true;
    }
    for (const one of value.functions) {
      if (known.functions.has(one)) continue;
      known.functions.add(one);
      grew = true;
    }
  };

  for (let round = 0; grew && round < 6; round++) {
    grew = false;
    fullAncestor(program, (node, _state, ancestors) => {
      if (node.type === 'VariableDeclarator' && node.init && node.id.type === 'Identifier') {
        give(declaringScope(node.id.name, ancestors, scopes), node.id.name, valueOf(node.init, ancestors));
      } else if (
        node.type === 'AssignmentExpression' &&
        node.left.type === 'Identifier' &&
        node.operator === '='
      ) {
        give(
          declaringScope(node.left.name, ancestors, scopes),
          node.left.name,
          valueOf(node.right, ancestors),
        );
      } else if (node.type === 'CallExpression') {
        const viaCall =
          node.callee.type === 'MemberExpression' &&
          !node.callee.computed &&
          node.callee.property.type === 'Identifier' &&
          node.callee.property.name === 'call';
        const callee = viaCall ? (node.callee as { object: AnyNode }).object : node.callee;
        const values = node.arguments.slice(viaCall ? 1 : 0).map((one) => valueOf(one, ancestors));
        for (const called of valueOf(callee, ancestors).functions) {
          called.params.forEach((param, index) => {
            if (param.type === 'Identifier' && values[index]) give(called, param.name, values[index]);
          });
        }
      }
    });
  }
  return (node, ancestors) => valueOf(node, ancestors).window;
}

/** `this` outside functions, and in a function that is called where it stands (sloppy mode: the global object). */
function thisIsWindow(ancestors: readonly AnyNode[]): boolean {
  const index = ancestors.findLastIndex(
    (node) => node.type === 'FunctionExpression' || node.type === 'FunctionDeclaration',
  );
  if (index < 0) return true;
  const parent = ancestors[index - 1];
  if (parent?.type === 'CallExpression' && parent.callee === ancestors[index])
    return thisIsWindow(ancestors.slice(0, index));
  const call = ancestors[index - 2];
  return (
    parent?.type === 'MemberExpression' &&
    call?.type === 'CallExpression' &&
    call.callee === parent &&
    call.arguments[0]?.type === 'ThisExpression' &&
    thisIsWindow(ancestors.slice(0, index))
  );
}
