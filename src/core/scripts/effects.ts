import type { AnyNode } from 'acorn';
import { type Bindings, constantText, isEval, propertyName, type Linked } from './bindings.ts';
import { markupTokens, selectorTokens } from './element-tokens.ts';
import { PLATFORM } from './platform.ts';
import type { Phase, Phases } from './phases.ts';

/** What is done with a name. */
export type AccessKind =
  | 'read'
  /** Defined or changed. */
  | 'write'
  /** `x = x || []`: defined only where it is not there. */
  | 'stub'
  /** Called, or a part of it is: that may change what it holds. */
  | 'touch'
  /** Put into a queue that another script empties. */
  | 'push';

/** What a script does with one name, and in which phase. */
export interface Access {
  name: string;
  kind: AccessKind;
  /** Parts of it that are meant; none for the name itself, null for any. */
  members: ReadonlySet<string> | null;
  phase: Phase;
  line: number;
}

/** What a script does with elements of the page in one phase. */
export interface ElementAccess {
  phase: Phase;
  /** What it looks for in the page: `#id`, `.class`, `tag`, `[attribute]` of literals; null where that cannot be known. */
  seeks: ReadonlySet<string> | null;
  /** The selectors that it looks for them by, as they are written. */
  selectors: ReadonlySet<string>;
  /** What it puts there, the same way. */
  makes: ReadonlySet<string>;
  /** Whether it changes anything of the page. */
  writes: boolean;
  line: number;
}

export interface ScriptEffects {
  accesses: readonly Access[];
  elements: readonly ElementAccess[];
  /**
   * Names of properties that it uses at all, each with the line where it does so first: what a change of the
   * platform's own objects may concern.
   */
  properties: ReadonlyMap<string, number>;
  /** Line where it first listens to the page as a whole, the window or the document, after it has loaded; null where it does not. */
  hearsPage: number | null;
}

/** The name of what cannot be known: it may be any. */
export const ANY_NAME = '?';

/** Writes to parts of these are seen by whatever uses such a part, of whichever object. */
const SHARED_OBJECTS = /^(prototype|__proto__)$/;

/** State of the page that scripts share by a key. */
const STORES = new Set(['localStorage', 'sessionStorage']);

/** Methods that look for elements, each with the selector that says the same. */
const QUERIES = new Map<string, (text: string) => string>(
  Object.entries({
    getElementById: (text: string) => `#${text}`,
    getElementsByClassName: (text: string) => `.${text.trim().replace(/\s+/g, '.')}`,
    getElementsByTagName: (text: string) => text.toLowerCase(),
    getElementsByName: () => '[name]',
    querySelector: (text: string) => text,
    querySelectorAll: (text: string) => text,
  }),
);

/** Collections of the document that are as good as a query. */
const COLLECTIONS = new Map(
  Object.entries({
    forms: 'form',
    images: 'img',
    links: 'a',
    anchors: 'a',
    embeds: 'embed',
  }),
);

const CHANGES_ELEMENTS =
  /^(appendChild|append|prepend|before|after|insertBefore|replaceChild|replaceWith|replaceChildren|removeChild|remove|insertAdjacentHTML|insertAdjacentElement|insertAdjacentText|setAttribute|removeAttribute|toggleAttribute)$/;
const CHANGED_BY_ASSIGNMENT =
  /^(innerHTML|outerHTML|textContent|innerText|className|hidden|value|checked|disabled|src|href)$/;
const ANNOUNCES = /^(trigger|triggerHandler|emit|publish|fire)$/;
const LISTENS = /^(on|one|once|subscribe|addListener|addEventListener)$/;
/** Told once, when the page is there: whoever comes later waits for them in vain, and is not told of visitors by them. */
const OF_LOADING = /^(DOMContentLoaded|load|readystatechange|pageshow)\b/;

/** What one phase of a script does with a name, as it is put together. */
interface Gathered {
  access: Omit<Access, 'members'>;
  members: Set<string> | null;
}

/** Reads what a parsed script does. @param bindings what its names hold */
export function effectsOf(bindings: Bindings, phases: Phases): ScriptEffects {
  return new EffectReader(bindings, phases).read();
}

class EffectReader {
  #bindings: Bindings;
  #phases: Phases;
  #accesses = new Map<string, Gathered>();
  #elements = new Map<
    Phase,
    {
      phase: Phase;
      seeks: Set<string> | null;
      selectors: Set<string>;
      makes: Set<string>;
      writes: boolean;
      line: number;
    }
  >();
  #properties = new Map<string, number>();
  #hearsPage: number | null = null;

  constructor(bindings: Bindings, phases: Phases) {
    this.#bindings = bindings;
    this.#phases = phases;
  }

  read(): ScriptEffects {
    for (const name of this.#bindings.topNames)
      this.#note(name, 'write', [], this.#bindings.nodes[0]!, 'run');
    for (const node of this.#bindings.nodes) this.#node(node);
    return {
      accesses: [...this.#accesses.values()].map(({ access, members }) => ({ ...access, members })),
      elements: [...this.#elements.values()],
      properties: this.#properties,
      hearsPage: this.#hearsPage,
    };
  }

  #node(node: Linked): void {
    switch (node.type) {
      case 'MemberExpression': {
        const name = propertyName(node);
        if (name !== null && !this.#properties.has(name))
          this.#properties.set(name, node.loc?.start.line ?? 1);
        this.#chain(node);
        return;
      }
      case 'Identifier':
        if (isReference(node)) this.#identifier(node);
        return;
      case 'CallExpression':
      case 'NewExpression':
        this.#call(node);
        return;
      case 'BinaryExpression':
        if (node.operator === 'in' && this.#bindings.valueOf(node.right as Linked).window)
          this.#note(constantText(node.left as Linked) ?? ANY_NAME, 'read', [], node);
        return;
      case 'WithStatement':
        this.#note(ANY_NAME, 'write', null, node);
        return;
      case 'AssignmentExpression':
        if (node.left.type === 'MemberExpression') this.#assignsToElement(node, node.left);
        return;
      default:
    }
  }

  // ── names

  /** A name that stands alone, or at the beginning of a chain: the chain's outermost member tells of it. */
  #identifier(node: Linked & { name: string }): void {
    if (node.up?.type === 'MemberExpression' && node.up.object === node) return;
    if (PLATFORM.has(node.name) && this.#bindings.isGlobalName(node)) {
      this.#platform(node, node.name);
      return;
    }
    if (!this.#bindings.isGlobalName(node) && !this.#bindings.isTopName(node)) {
      // What a local name is part of is handed on whole.
      return;
    }
    this.#use(node, node.name, []);
  }

  #platform(node: Linked, name: string): void {
    this.#note(name, writtenBy(node) ? 'write' : 'read', [], node);
  }

  /** A member: of the global object, of a global name, of what a local name holds. */
  #chain(node: Linked & { type: 'MemberExpression' }): void {
    if (node.object.type === 'Super') return;
    // Only the outermost member of a chain is told: it names all that lies before it.
    if (node.up?.type === 'MemberExpression' && node.up.object === node) return;
    const { base, members } = unfold(node, (one) => this.#bindings.memberName(one));
    const held = this.#bindings.valueOf(base);
    const [first, ...rest] = members;
    if (held.window) {
      if (first === null) this.#note(ANY_NAME, 'write', null, node);
      else if (first !== undefined && !/^(window|self|globalThis|top|parent|document)$/.test(first))
        this.#use(node, first, rest);
      else if (first === 'document') this.#documentState(node, rest);
      return;
    }
    if (held.document) {
      this.#documentState(node, members);
      return;
    }
    if (base.type === 'Identifier' && PLATFORM.has(base.name) && this.#bindings.isGlobalName(base)) {
      this.#use(node, base.name, members);
      return;
    }
    for (const root of held.roots) this.#use(node, root, members);
  }

  #documentState(node: Linked, members: readonly (string | null)[]): void {
    const [first] = members;
    if (typeof first === 'string' && writtenBy(node)) this.#hears(node, first);
    if (first === 'cookie' || first === 'title')
      this.#note(`document.${first}`, writtenBy(node) ? 'write' : 'read', [], node);
    const collection = typeof first === 'string' ? COLLECTIONS.get(first) : undefined;
    if (collection) this.#seeks(node, collection);
  }

  /** Tells of a use of a global name, by what is done with it. */
  #use(node: Linked, name: string, members: readonly (string | null)[]): void {
    if (STORES.has(name)) {
      this.#store(node, name, members);
      return;
    }
    const parts = members.includes(null) ? null : (members as string[]);
    const call = callOf(node);
    if (writtenBy(node)) {
      if (members.length === 0) this.#hears(node, name);
      const assignment = node.up?.type === 'AssignmentExpression' ? node.up : null;
      const whole = members.length === 0;
      if (!whole) this.#note(name, 'read', [], node);
      const shared = members.some((one) => one !== null && SHARED_OBJECTS.test(one));
      const changed = parts === null ? null : parts.slice(-1);
      if (shared && PLATFORM.has(name)) this.#note('*', 'write', changed, node);
      this.#note(name, whole && assignment && isStub(assignment, name) ? 'stub' : 'write', changed, node);
      if (assignment?.operator !== '=') this.#note(name, 'read', changed, node);
      return;
    }
    if (PLATFORM.has(name)) {
      this.#note(name, 'read', parts, node);
      return;
    }
    if (!call) {
      this.#note(name, 'read', parts, node);
      return;
    }
    this.#note(name, 'read', parts, node);
    if (parts?.length === 1 && /^(push|unshift)$/.test(parts[0]!)) this.#note(name, 'push', [], node);
    else if (members.length === 0 ? !wrapsElements(call) : !isOfWrapped(node))
      this.#note(name, 'touch', parts, node);
  }

  #store(node: Linked, name: string, members: readonly (string | null)[]): void {
    const [first] = members;
    const call = callOf(node);
    const key =
      call && /^(get|set|remove)Item$/.test(String(first)) ? constantText(call.arguments[0]) : first;
    const writes = writtenBy(node) || /^(set|remove)Item$|^clear$/.test(String(first));
    this.#note(name, writes ? 'write' : 'read', typeof key === 'string' ? [key] : null, node);
  }

  // ── calls

  #call(node: Linked & { type: 'CallExpression' | 'NewExpression' }): void {
    const { callee } = node;
    if (callee.type === 'Super') return;
    const name = callee.type === 'MemberExpression' ? propertyName(callee) : null;
    const [first, second] = node.arguments;
    if (node.type === 'CallExpression' && isEval(callee) && constantText(first) === null)
      this.#note(ANY_NAME, 'write', null, node);
    if (
      callee.type === 'Identifier' &&
      callee.name === 'Function' &&
      !/^\s*return this;?\s*$/.test(constantText(first) ?? '')
    )
      this.#note(ANY_NAME, 'write', null, node);
    if (
      callee.type === 'Identifier' &&
      /^set(Timeout|Interval)$/.test(callee.name) &&
      first?.type === 'Literal'
    )
      this.#note(ANY_NAME, 'write', null, node);
    if (callee.type === 'MemberExpression' && name !== null) {
      this.#writesByCall(node, callee, name);
      this.#elementCall(node, callee as Linked & { type: 'MemberExpression' }, name);
      if (ANNOUNCES.test(name) && constantText(first) !== null)
        this.#event(node, 'write', constantText(first)!);
      if (LISTENS.test(name) && constantText(first) !== null) {
        this.#event(node, 'read', constantText(first)!);
        if (callee.object.type !== 'Super' && this.#isWholePage(callee.object))
          this.#hears(node, `on${constantText(first)!}`);
      }
      if (name === 'dispatchEvent' && first?.type === 'NewExpression') {
        const event = constantText(first.arguments[0]);
        if (event !== null) this.#event(node, 'write', event);
      }
      if (
        name === 'define' &&
        constantText(first) !== null &&
        /customElements$/.test(lastName(callee.object))
      )
        this.#defines(node, constantText(first)!.toLowerCase());
    } else if (callee.type === 'Identifier') {
      if (callee.name === 'addEventListener' && constantText(first) !== null) {
        this.#event(node, 'read', constantText(first)!);
        this.#hears(node, `on${constantText(first)!}`);
      }
    }
    const wrapper = callee.type === 'Identifier' || callee.type === 'MemberExpression' ? callee : null;
    if (
      wrapper &&
      node.type === 'CallExpression' &&
      second === undefined &&
      this.#isRootCall(wrapper) &&
      isText(first)
    ) {
      const text = constantText(first)!;
      if (/^\s*</.test(text)) this.#makes(node, markupTokens(text));
      else {
        this.#seeks(node, text);
        if (isChanged(node)) this.#makes(node, []);
      }
    }
  }

  /** An event that is announced, or listened to: who listens has to do so before it is announced. */
  #event(node: Linked, kind: 'read' | 'write', names: string): void {
    const own = names.split(/\s+/).map((one) => one.replace(/\..*/, ''));
    this.#note('event', kind, own, node);
  }

  /** The window, the document, its body or root, or any of them wrapped: `$(document)`. */
  #isWholePage(node: Linked): boolean {
    const { window, document } = this.#bindings.valueOf(node);
    if (window || document || this.#isPage(node)) return true;
    const [first] = node.type === 'CallExpression' ? node.arguments : [];
    if (first === undefined || first.type === 'SpreadElement') return false;
    return this.#isWholePage(first as Linked) || /^\s*(body|html)\s*$/.test(constantText(first) ?? '');
  }

  #hears(node: Linked, handler: string): void {
    if (/^on./.test(handler) && !OF_LOADING.test(handler.slice(2)))
      this.#hearsPage ??= node.loc?.start.line ?? 1;
  }

  /** `$('…')`: a global name, or a local one that holds it, is called itself. */
  #isRootCall(callee: Linked): boolean {
    if (callee.type === 'MemberExpression')
      return callee.object.type !== 'Super' && this.#bindings.valueOf(callee.object).window;
    return this.#bindings.valueOf(callee).roots.size > 0;
  }

  /** `Object.assign(window, …)`, `Object.defineProperty(App, 'x', …)`, `$.extend($.fn, …)`. */
  #writesByCall(
    node: Linked & { type: 'CallExpression' | 'NewExpression' },
    callee: AnyNode & { type: 'MemberExpression' },
    name: string,
  ): void {
    const own = callee.object.type === 'Identifier' && /^(Object|Reflect)$/.test(callee.object.name);
    const [target, second] = node.arguments;
    if (
      !target ||
      !(own || name === 'extend') ||
      !/^(assign|defineProperty|defineProperties|set|extend)$/.test(name)
    )
      return;
    const held = this.#bindings.valueOf(target);
    if (!held.window && held.roots.size === 0) return;
    const names =
      name === 'defineProperty' || name === 'set'
        ? [constantText(second)]
        : node.arguments.slice(1).flatMap((one) => (one.type === 'ObjectExpression' ? keysOf(one) : [null]));
    for (const one of names) {
      if (held.window) {
        if (one === null) this.#note(ANY_NAME, 'write', null, node);
        else this.#note(one, 'write', [], node);
      }
      for (const root of held.roots) this.#note(root, 'write', one === null ? null : [one], node);
    }
  }

  // ── elements

  #elementCall(
    node: Linked & { type: 'CallExpression' | 'NewExpression' },
    callee: Linked & { type: 'MemberExpression' },
    name: string,
  ): void {
    const [first] = node.arguments;
    const literal = constantText(first);
    const query = QUERIES.get(name);
    const ofDocument = callee.object.type !== 'Super' && this.#isPage(callee.object);
    if (query && (ofDocument || literal !== null)) {
      const selector = literal === null ? beginningOf(first) : query(literal);
      // Of what is not the page, only what has a name of its own is surely found in it.
      if (ofDocument || (selector !== null && /[#.][\w-]/.test(selector))) this.#seeks(node, selector);
      if (isChanged(node)) this.#makes(node, []);
    }
    if (name === 'createElement' && literal !== null) this.#makes(node, [literal.toLowerCase()]);
    if (CHANGES_ELEMENTS.test(name)) {
      const text = node.arguments.map(constantText);
      const tokens = text.flatMap((one) => (one && /</.test(one) ? markupTokens(one) : []));
      if (/Attribute$/.test(name) && text[0])
        tokens.push(
          `[${text[0].toLowerCase()}]`,
          ...(text[0] === 'id' && text[1] ? [`#${text[1]}`] : []),
          ...(text[0] === 'class' && text[1] ? text[1].split(/\s+/).map((one) => `.${one}`) : []),
        );
      this.#makes(node, tokens);
    }
    const { object } = callee;
    if (
      /^(add|remove|toggle|replace|contains)$/.test(name) &&
      object.type === 'MemberExpression' &&
      propertyName(object) === 'classList'
    ) {
      const classes = node.arguments.flatMap((one) => {
        const text = constantText(one);
        return text === null ? [] : [`.${text}`];
      });
      if (name === 'contains') this.#seeks(node, classes.join(''));
      else this.#makes(node, classes);
    }
  }

  /** A custom element: what of it stands in the page already is changed, what comes later is made so. */
  #defines(node: Linked, tag: string): void {
    this.#seeks(node, tag);
    this.#makes(node, [tag]);
  }

  /** The document, or what holds all of it. */
  #isPage(node: Linked): boolean {
    if (this.#bindings.valueOf(node).surelyDocument) return true;
    return (
      node.type === 'MemberExpression' &&
      node.object.type !== 'Super' &&
      /^(body|documentElement)$/.test(propertyName(node) ?? '') &&
      this.#bindings.valueOf(node.object).surelyDocument
    );
  }

  #assignsToElement(
    node: Linked & { type: 'AssignmentExpression' },
    left: AnyNode & { type: 'MemberExpression' },
  ): void {
    const name = propertyName(left);
    const styled = left.object.type === 'MemberExpression' && propertyName(left.object) === 'style';
    if (styled) this.#makes(node, []);
    if (name === null || !CHANGED_BY_ASSIGNMENT.test(name)) {
      if (name === 'id') this.#makes(node, tokensOf(constantText(node.right), '#'));
      return;
    }
    const texts = textsIn(node.right);
    const tokens = /HTML$/.test(name)
      ? texts.flatMap(markupTokens)
      : name === 'className'
        ? texts.flatMap((text) => tokensOf(text, '.'))
        : [];
    this.#makes(node, tokens);
  }

  // ── noting

  #note(name: string, kind: AccessKind, members: readonly string[] | null, node: Linked, only?: Phase): void {
    const line = node.loc?.start.line ?? 1;
    for (const phase of only ? [only] : this.#phases.of(node)) {
      // What only might be done, and might be anything, would tie every library to everything.
      if (name === ANY_NAME && !only && !this.#phases.isSure(node, phase)) continue;
      const key = `${phase} ${kind} ${members?.length === 0 ? 0 : 1} ${name}`;
      const known = this.#accesses.get(key);
      if (!known)
        this.#accesses.set(key, {
          access: { name, kind, phase, line },
          members: members && new Set(members),
        });
      else if (members === null) known.members = null;
      else for (const one of members) known.members?.add(one);
    }
  }

  #seeks(node: Linked, selector: string | null): void {
    const tokens = selector === null ? null : selectorTokens(selector);
    for (const phase of this.#phases.of(node)) {
      if (tokens === null && !this.#phases.isSure(node, phase)) continue;
      const known = this.#elementsIn(phase, node);
      if (tokens === null) known.seeks = null;
      else for (const one of tokens) known.seeks?.add(one);
      if (selector !== null) known.selectors.add(selector);
    }
  }

  #makes(node: Linked, tokens: readonly string[]): void {
    for (const phase of this.#phases.of(node)) {
      const known = this.#elementsIn(phase, node);
      known.writes = true;
      for (const one of tokens) known.makes.add(one);
    }
  }

  #elementsIn(phase: Phase, node: Linked) {
    let known = this.#elements.get(phase);
    if (!known) {
      known = {
        phase,
        seeks: new Set(),
        selectors: new Set(),
        makes: new Set(),
        writes: false,
        line: node.loc?.start.line ?? 1,
      };
      this.#elements.set(phase, known);
    }
    return known;
  }
}

/** A chain of members, its base and the names in their order; calls in between are passed through. */
function unfold(
  node: Linked,
  nameOf: (member: Linked & { type: 'MemberExpression' }) => string | null = propertyName,
): { base: Linked; members: (string | null)[] } {
  const members: (string | null)[] = [];
  let base = node;
  for (;;) {
    if (base.type === 'MemberExpression' && base.object.type !== 'Super') {
      members.unshift(nameOf(base));
      base = base.object;
    } else if (base.type === 'ChainExpression') base = base.expression;
    else return { base, members };
  }
}

/** Whether an identifier stands where its value is meant. */
function isReference(node: Linked): boolean {
  const { up } = node;
  if (!up) return false;
  switch (up.type) {
    case 'MemberExpression':
      return up.object === node || up.computed;
    case 'Property':
      return up.value === node && up.up?.type !== 'ObjectPattern';
    case 'PropertyDefinition':
    case 'MethodDefinition':
      return up.value === node || (up.computed && up.key === node);
    case 'VariableDeclarator':
      return up.init === node;
    case 'FunctionDeclaration':
    case 'FunctionExpression':
    case 'ArrowFunctionExpression':
      return up.body === node;
    case 'ClassDeclaration':
    case 'ClassExpression':
      return up.superClass === node;
    case 'LabeledStatement':
    case 'BreakStatement':
    case 'ContinueStatement':
    case 'MetaProperty':
    case 'ImportSpecifier':
    case 'ImportDefaultSpecifier':
    case 'ImportNamespaceSpecifier':
    case 'CatchClause':
    case 'RestElement':
    case 'ArrayPattern':
      return false;
    case 'ExportSpecifier':
      return up.local === node;
    default:
      return true;
  }
}

/** Whether an expression is what an assignment, an increment or `delete` changes. */
function writtenBy(node: Linked): boolean {
  const { up } = node;
  if (!up) return false;
  return (
    (up.type === 'AssignmentExpression' && up.left === node) ||
    up.type === 'UpdateExpression' ||
    (up.type === 'UnaryExpression' && up.operator === 'delete') ||
    ((up.type === 'ForInStatement' || up.type === 'ForOfStatement') && up.left === node)
  );
}

/** The call whose callee a chain is. */
function callOf(node: Linked): (Linked & { type: 'CallExpression' | 'NewExpression' }) | null {
  const { up } = node;
  return up && (up.type === 'CallExpression' || up.type === 'NewExpression') && up.callee === node
    ? up
    : null;
}

/** `x = x || …`, `w.x = w.x || …`, `x ||= …`, `x ??= …`. */
function isStub(node: AnyNode & { type: 'AssignmentExpression' }, name: string): boolean {
  if (node.operator === '||=' || node.operator === '??=') return true;
  const { right } = node;
  return (
    right.type === 'LogicalExpression' &&
    right.operator !== '&&' &&
    lastName(right.left) === name &&
    node.operator === '='
  );
}

/** `$('.x')`, `$(fn)`, `$(document)`: what is given is wrapped, and nothing of the name itself changes. */
function wrapsElements(call: AnyNode & { type: 'CallExpression' | 'NewExpression' }): boolean {
  const [first] = call.arguments;
  if (call.type === 'NewExpression' || call.arguments.length > 2 || !first) return false;
  if (/Function/.test(first.type) || first.type === 'ThisExpression') return true;
  const text = constantText(first);
  if (text !== null) return /^[\s<#.[*:\w-]/.test(text) && isMemberOf(call as Linked);
  return first.type === 'Identifier' && /^(document|window)$/.test(first.name);
}

const isMemberOf = (call: Linked) =>
  call.up?.type === 'MemberExpression' || call.up?.type === 'VariableDeclarator';

/** Whether a chain goes on from what `$(…)` gave: that is of elements, not of the name. */
function isOfWrapped(chain: Linked): boolean {
  const { base } = unfold(chain);
  return (
    base.type === 'CallExpression' &&
    (base.callee.type === 'Identifier' || isOfWrapped(base.callee as Linked))
  );
}

/** Of a selector that is put together the tag that it begins with, where that is one which nobody sees; null otherwise. */
function beginningOf(node: AnyNode | undefined): string | null {
  let left = node;
  while (left?.type === 'BinaryExpression' && left.left.type !== 'PrivateIdentifier') left = left.left;
  if (left?.type === 'CallExpression' && left.callee.type === 'MemberExpression') {
    const { callee } = left;
    left = propertyName(callee) === 'concat' && callee.object.type !== 'Super' ? callee.object : undefined;
  }
  const text =
    left?.type === 'TemplateLiteral' ? (left.quasis[0]?.value.cooked ?? '') : (constantText(left) ?? '');
  return /^(script|link|style|meta)(?=\[)/.exec(text)?.[1] ?? null;
}

/** Whether something is a text that stands in the script, and no number. */
function isText(node: AnyNode | undefined): boolean {
  return constantText(node) !== null && !(node?.type === 'Literal' && typeof node.value !== 'string');
}

/** Whether the result of a query is changed where it stands: a member of it is assigned to, or a method is called. */
function isChanged(node: Linked): boolean {
  const { up } = node;
  if (up?.type !== 'MemberExpression' || up.object !== node) return false;
  return writtenBy(up as Linked) || callOf(up as Linked) !== null || isChanged(up as Linked);
}

function lastName(node: AnyNode): string {
  if (node.type === 'Identifier') return node.name;
  return node.type === 'MemberExpression' ? (propertyName(node) ?? '') : '';
}

function keysOf(node: AnyNode & { type: 'ObjectExpression' }): (string | null)[] {
  return node.properties.map((one) => {
    if (one.type !== 'Property') return null;
    return !one.computed && one.key.type === 'Identifier' ? one.key.name : constantText(one.key);
  });
}

function tokensOf(text: string | null, sign: string): string[] {
  return (text ?? '').split(/\s+/).flatMap((one) => (/^[\w-]+$/.test(one) ? [sign + one] : []));
}

/** The texts that stand in an expression. */
function textsIn(node: AnyNode): string[] {
  switch (node.type) {
    case 'Literal':
      return typeof node.value === 'string' ? [node.value] : [];
    case 'TemplateLiteral':
      return [...node.quasis.map((one) => one.value.cooked ?? ''), ...node.expressions.flatMap(textsIn)];
    case 'BinaryExpression':
      return [...(node.left.type === 'PrivateIdentifier' ? [] : textsIn(node.left)), ...textsIn(node.right)];
    case 'ConditionalExpression':
      return [...textsIn(node.consequent), ...textsIn(node.alternate)];
    default:
      return [];
  }
}
