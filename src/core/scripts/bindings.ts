import type { AnyNode, Program } from 'acorn';
import { PLATFORM } from './platform.ts';
import { variablesOf, type Variable, type Variables } from './scopes.ts';

/** The names by which every script knows the global object. */
const GLOBAL_OBJECTS = new Set(['window', 'self', 'globalThis', 'top', 'parent', 'frames']);

export type FunctionNode = Linked & { params: Linked[]; body: Linked };

/** A node that knows where it stands. */
export type Linked = AnyNode & {
  up?: Linked;
  /** The function that it is part of, or the program. */
  owner?: Linked;
  /** `this` that is the global object. */
  globalThis?: boolean;
};

/** What a name or an expression may hold, as far as it matters here. */
export interface Held {
  window: boolean;
  document: boolean;
  /** It holds nothing else than the document, as far as is seen. */
  surelyDocument: boolean;
  functions: Set<FunctionNode>;
  /** Global names that it may be, or be a part of. */
  roots: Set<string>;
}

const nothing = (): Held => ({
  window: false,
  document: false,
  surelyDocument: false,
  functions: new Set(),
  roots: new Set(),
});

const isFunction = (node: AnyNode): boolean =>
  node.type === 'FunctionDeclaration' ||
  node.type === 'FunctionExpression' ||
  node.type === 'ArrowFunctionExpression';

/** Rounds until nothing new is found; what is handed on through more calls than this is not followed. */
const MOST_ROUNDS = 6;

/**
 * What the names of a script hold: the global object, the document, functions, parts of global names. Libraries are
 * wrapped in functions that are given these (`(function (root, factory) { factory(root) })(this, function (w) { … })`),
 * so what is passed is followed through calls and variables until nothing new is found.
 */
export class Bindings {
  /** Every node, parents first. */
  readonly nodes: Linked[] = [];
  /** Functions by the names of properties that hold them. */
  readonly byProperty = new Map<string, FunctionNode[]>();
  /** Texts of names that are set once, to a text that stands in the script. */
  #texts = new Map<Held, string | null>();
  #variables: Variables;
  #held = new Map<Variable, Held>();

  constructor(program: Program, kind: 'script' | 'module') {
    this.#variables = variablesOf(program, kind);
    this.#link(program as Linked, program as Linked);
    for (const node of this.nodes)
      if (node.type === 'ThisExpression') node.globalThis = kind === 'script' && thisIsGlobal(node);
    this.#follow();
    for (const node of this.nodes) this.#noteText(node);
  }

  #noteText(node: Linked): void {
    const target =
      node.type === 'VariableDeclarator'
        ? node.init && node.id
        : node.type === 'AssignmentExpression'
          ? node.left
          : null;
    if (target?.type !== 'Identifier') return;
    const held = this.#binding(target);
    if (!held) return;
    const text = node.type === 'VariableDeclarator' ? constantText(node.init ?? undefined) : null;
    this.#texts.set(held, this.#texts.has(held) ? null : text);
  }

  /** The name of a member, also where a name stands for it that is set once. */
  memberName(node: Linked & { type: 'MemberExpression' }): string | null {
    const name = propertyName(node);
    if (name !== null || node.property.type !== 'Identifier') return name;
    const held = this.#binding(node.property);
    return held ? (this.#texts.get(held) ?? null) : null;
  }

  /** Names declared at the top of the script. */
  get topNames(): string[] {
    return [...this.#variables.top.keys()];
  }

  /** Whether an identifier names something global that the script does not declare within a function or block. */
  isGlobalName(node: Linked & { name: string }): boolean {
    return this.#binding(node) === null;
  }

  /** Whether an identifier names what the top of this script declares. */
  isTopName(node: Linked & { name: string }): boolean {
    const variable = this.#variables.named(node);
    return variable !== null && this.#variables.top.get(node.name) === variable;
  }

  #binding(node: Linked & { name: string }): Held | null {
    const variable = this.#variables.named(node);
    if (!variable) return null;
    let held = this.#held.get(variable);
    if (!held) this.#held.set(variable, (held = nothing()));
    return held;
  }

  /** What an expression may hold. */
  valueOf(node: Linked): Held {
    const value = nothing();
    const add = (other: Held) => {
      value.window ||= other.window;
      value.document ||= other.document;
      value.surelyDocument ||= other.surelyDocument;
      for (const one of other.functions) value.functions.add(one);
      for (const one of other.roots) value.roots.add(one);
    };
    switch (node.type) {
      case 'Identifier': {
        const held = this.#binding(node);
        if (held) {
          add(held);
          // What the top of a script declares is a global name as well.
          if (this.isTopName(node)) value.roots.add(node.name);
        } else add(ofGlobal(node.name));
        break;
      }
      case 'ThisExpression':
        value.window = node.globalThis === true;
        break;
      case 'FunctionExpression':
      case 'ArrowFunctionExpression':
      case 'FunctionDeclaration':
        value.functions.add(node as FunctionNode);
        break;
      case 'ConditionalExpression':
        add({ ...this.valueOf(node.consequent), surelyDocument: false });
        add({ ...this.valueOf(node.alternate), surelyDocument: false });
        break;
      case 'LogicalExpression':
        add({ ...this.valueOf(node.left), surelyDocument: false });
        add({ ...this.valueOf(node.right), surelyDocument: false });
        break;
      case 'AssignmentExpression':
        add(this.valueOf(node.right));
        break;
      case 'SequenceExpression':
        add(this.valueOf(node.expressions.at(-1)!));
        break;
      case 'ChainExpression':
        add(this.valueOf(node.expression));
        break;
      case 'MemberExpression': {
        if (node.object.type === 'Super') break;
        const name = propertyName(node);
        const object = this.valueOf(node.object);
        if (object.window && name !== null) add(ofGlobal(name));
        for (const root of object.roots) value.roots.add(root);
        if (object.document && (name === 'defaultView' || name === 'parentWindow')) value.window = true;
        if (name === 'ownerDocument') value.document = true;
        if (name !== null && /^(call|apply|bind)$/.test(name))
          for (const one of object.functions) value.functions.add(one);
        break;
      }
      case 'CallExpression': {
        if (isReturnThis(node)) value.window = true;
        else if (node.callee.type !== 'Super')
          for (const root of this.valueOf(node.callee).roots) value.roots.add(root);
        break;
      }
      default:
    }
    return value;
  }

  #link(node: Linked, owner: Linked): void {
    node.owner = owner;
    this.nodes.push(node);
    const inner = isFunction(node) ? node : owner;
    for (const child of childrenOf(node)) {
      child.up = node;
      this.#link(child, inner);
    }
  }

  #follow(): void {
    const sites = this.nodes.filter(
      (node) =>
        (node.type === 'VariableDeclarator' && node.init) ||
        node.type === 'AssignmentExpression' ||
        node.type === 'CallExpression' ||
        node.type === 'FunctionDeclaration' ||
        node.type === 'Property' ||
        node.type === 'MethodDefinition',
    );
    for (const node of sites) this.#noteProperty(node);
    for (let round = 0; round < MOST_ROUNDS; round++) {
      let grew = false;
      for (const node of sites) if (this.#flow(node)) grew = true;
      if (!grew) return;
    }
  }

  #noteProperty(node: Linked): void {
    const note = (name: string | null, value: AnyNode) => {
      if (name === null || !isFunction(value)) return;
      const known = this.byProperty.get(name);
      if (known) known.push(value as FunctionNode);
      else this.byProperty.set(name, [value as FunctionNode]);
    };
    if (node.type === 'Property' || node.type === 'MethodDefinition')
      note(keyName(node.key, node.computed), node.value);
    if (node.type === 'AssignmentExpression' && node.left.type === 'MemberExpression')
      note(propertyName(node.left), node.right);
  }

  /** Gives one name what it is set to. @returns whether that was new */
  #flow(node: Linked): boolean {
    if (node.type === 'VariableDeclarator' && node.init && node.id.type === 'Identifier')
      return this.#give(node.id, this.valueOf(node.init));
    if (node.type === 'AssignmentExpression' && node.left.type === 'Identifier')
      return this.#give(node.left, this.valueOf(node.right));
    if (node.type === 'FunctionDeclaration' && node.id)
      return this.#give(node.id, { ...nothing(), functions: new Set([node as FunctionNode]) });
    if (node.type !== 'CallExpression' || node.callee.type === 'Super') return false;
    const callee = node.callee as Linked;
    const viaCall = callee.type === 'MemberExpression' && propertyName(callee) === 'call';
    let grew = false;
    const { functions } = this.valueOf(viaCall ? (callee as { object: Linked }).object : callee);
    if (functions.size === 0) return false;
    const given = node.arguments.slice(viaCall ? 1 : 0).map((one) => this.valueOf(one));
    for (const called of functions)
      called.params.forEach((param, index) => {
        // What is called where it stands is called with nothing else.
        const here = called === callee || called === (callee as { object?: Linked }).object;
        const held = given[index] && { ...given[index], surelyDocument: here && given[index].surelyDocument };
        if (param.type === 'Identifier' && held && this.#give(param, held)) grew = true;
      });
    return grew;
  }

  #give(name: Linked & { name: string }, value: Held): boolean {
    const known = this.#binding(name);
    if (!known) return false;
    const before = known.functions.size + known.roots.size + Number(known.window) + Number(known.document);
    known.window ||= value.window;
    known.document ||= value.document;
    known.surelyDocument ||= value.surelyDocument;
    for (const one of value.functions) known.functions.add(one);
    // A global name is part of itself already.
    for (const one of value.roots) if (!(one === name.name && this.isTopName(name))) known.roots.add(one);
    return known.functions.size + known.roots.size + Number(known.window) + Number(known.document) !== before;
  }
}

function ofGlobal(name: string): Held {
  if (GLOBAL_OBJECTS.has(name)) return { ...nothing(), window: true };
  if (name === 'document') return { ...nothing(), document: true, surelyDocument: true };
  return PLATFORM.has(name) ? nothing() : { ...nothing(), roots: new Set([name]) };
}

/** The name of a member, where it stands in the script; null where it is computed. */
export function propertyName(node: AnyNode & { type: 'MemberExpression' }): string | null {
  if (node.property.type === 'PrivateIdentifier') return null;
  return keyName(node.property, node.computed);
}

function keyName(key: AnyNode, computed: boolean): string | null {
  if (!computed && key.type === 'Identifier') return key.name;
  return constantText(key);
}

/** A text that stands in the script, put together of parts or not; null for what is not known. */
export function constantText(node: AnyNode | undefined): string | null {
  if (!node) return null;
  if (node.type === 'Literal') return typeof node.value === 'string' ? node.value : String(node.value);
  if (node.type === 'TemplateLiteral' && node.expressions.length === 0)
    return node.quasis[0]?.value.cooked ?? null;
  if (node.type === 'BinaryExpression' && node.operator === '+') {
    const left = constantText(node.left);
    const right = left === null ? null : constantText(node.right);
    return left === null || right === null ? null : left + right;
  }
  return null;
}

/** `Function('return this')()`, `(0, eval)('this')`. */
function isReturnThis(node: AnyNode & { type: 'CallExpression' }): boolean {
  const { callee } = node;
  if (callee.type === 'CallExpression' || callee.type === 'NewExpression')
    return (
      callee.callee.type === 'Identifier' &&
      callee.callee.name === 'Function' &&
      /^\s*return this;?\s*$/.test(constantText(callee.arguments[0]) ?? '')
    );
  return /^\s*this;?\s*$/.test(constantText(node.arguments[0]) ?? '') && isEval(callee);
}

/** `eval`, or `(0, eval)`. */
export function isEval(callee: AnyNode): boolean {
  if (callee.type === 'SequenceExpression') return isEval(callee.expressions.at(-1)!);
  return callee.type === 'Identifier' && callee.name === 'eval';
}

/** `this` outside functions, and in a function that is called where it stands (sloppy mode: the global object). */
function thisIsGlobal(node: Linked): boolean {
  let fn = node.owner;
  while (fn?.type === 'ArrowFunctionExpression') fn = fn.owner;
  if (!fn || fn.type === 'Program') return true;
  if (fn.up?.type === 'CallExpression' && fn.up.callee === fn) return thisIsGlobal(fn);
  const call = fn.up?.up;
  const [given] = call?.type === 'CallExpression' && call.callee === fn.up ? call.arguments : [];
  return fn.up?.type === 'MemberExpression' && given?.type === 'ThisExpression'
    ? thisIsGlobal(given as Linked)
    : false;
}

function childrenOf(node: Linked): Linked[] {
  const found: Linked[] = [];
  for (const [key, value] of Object.entries(node) as [string, unknown][]) {
    if (key === 'up' || key === 'owner' || key === 'loc' || key === 'range') continue;
    if (Array.isArray(value)) {
      for (const one of value) if (isNode(one)) found.push(one);
    } else if (isNode(value)) found.push(value);
  }
  return found;
}

function isNode(value: unknown): value is Linked {
  return typeof value === 'object' && value !== null && 'type' in value && 'start' in value;
}
