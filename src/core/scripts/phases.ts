import type { AnyNode } from 'acorn';
import { constantText, propertyName, type Bindings, type FunctionNode, type Linked } from './bindings.ts';

/** When a part of a script runs. */
export type Phase =
  /** With the script itself. */
  | 'run'
  /** Given to a function that is not known: it may call it at once. */
  | 'perhaps'
  /** Soon after it, whatever is going on then: timers, promises, observers. */
  | 'soon'
  /** Once the page is parsed or loaded. */
  | 'ready'
  /** When a visitor does something. */
  | 'input'
  /** When another script calls it. */
  | 'called';

const BITS: Record<Phase, number> = { run: 1, soon: 2, ready: 4, input: 8, called: 16, perhaps: 32 };
const PHASES = Object.keys(BITS) as Phase[];

const INPUT =
  /^(click|dblclick|auxclick|contextmenu|pointer\w+|mouse\w+|touch\w+|key\w+|wheel|scroll|submit|input|change|focus\w*|blur|beforeinput|beforeunload|unload|pagehide|visibilitychange|drag\w*|drop|copy|cut|paste|select)$/;
const READY = /^(DOMContentLoaded|load|pageshow)$/;
const SOON =
  /^(setTimeout|setInterval|requestAnimationFrame|requestIdleCallback|queueMicrotask|then|catch|finally)$/;
const OBSERVERS = /^(Mutation|Intersection|Resize|Performance)Observer$/;
/** Methods of the language's own lists, and others that call what they are given. */
const CALLS_AT_ONCE =
  /^(forEach|map|filter|some|every|find|findIndex|reduce|sort|flatMap|call|apply|Promise|each)$/;
const LISTENS = /^(addEventListener|attachEvent|on|one|once|bind|live|delegate)$/;

/** Of more functions of one name than these, which is meant is not followed. */
const MOST_CANDIDATES = 4;

/** In which phases the parts of a script run: calls are followed from the script's own code. */
export class Phases {
  #bindings: Bindings;
  #masks = new Map<Linked, number>();
  /** The same, of what is surely called. */
  #sure = new Map<Linked, number>();
  #edges = new Map<Linked, { called: Linked; sure: boolean }[]>();

  constructor(bindings: Bindings) {
    this.#bindings = bindings;
    const program = bindings.nodes[0]!;
    for (const node of bindings.nodes) {
      if (node.type === 'CallExpression' || node.type === 'NewExpression') this.#call(node);
      if (isFunctionNode(node)) this.#stands(node);
    }
    this.#spread(program, BITS.run);
  }

  /** The phases of the function that a node is part of. */
  of(node: Linked): Phase[] {
    const mask = this.#masks.get(node.owner ?? node) ?? BITS.called;
    return PHASES.filter((phase) => mask & BITS[phase]);
  }

  /** Whether a part of the script surely runs in a phase, and not only where an unknown function calls it. */
  isSure(node: Linked, phase: Phase): boolean {
    return ((this.#sure.get(node.owner ?? node) ?? 0) & BITS[phase]) > 0;
  }

  /** Gives phases to a function and to all that it calls. */
  #spread(from: Linked, bits: number, surely = true): void {
    const queue: [Linked, number, boolean][] = [[from, bits, surely]];
    for (let next = queue.pop(); next; next = queue.pop()) {
      const [node, added, sure] = next;
      const before = this.#masks.get(node) ?? 0;
      const sureBefore = this.#sure.get(node) ?? 0;
      if ((before | added) === before && (!sure || (sureBefore | added) === sureBefore)) continue;
      this.#masks.set(node, before | added);
      if (sure) this.#sure.set(node, sureBefore | added);
      for (const edge of this.#edges.get(node) ?? [])
        queue.push([edge.called, edge.sure ? added : unsure(added), sure && edge.sure]);
    }
  }

  #calls(caller: Linked, called: Linked, sure: boolean): void {
    const known = this.#edges.get(caller);
    if (known) known.push({ called, sure });
    else this.#edges.set(caller, [{ called, sure }]);
    const bits = this.#masks.get(caller);
    if (bits) this.#spread(called, sure ? bits : unsure(bits), false);
    const surely = this.#sure.get(caller);
    if (surely && sure) this.#spread(called, surely);
  }

  #call(node: Linked & { type: 'CallExpression' | 'NewExpression' }): void {
    const callee = node.callee as Linked;
    const caller = node.owner!;
    const { functions } = this.#bindings.valueOf(callee);
    for (const called of functions) this.#calls(caller, called, true);
    if (functions.size === 0) for (const called of this.#byName(callee)) this.#calls(caller, called, false);
    const bits = this.#phaseOfCallbacks(node);
    for (const given of node.arguments)
      for (const fn of this.#functionsIn(given as Linked)) {
        if (bits === null) this.#calls(caller, fn, functions.size > 0 || CALLS_AT_ONCE.test(nameOf(callee)));
        else this.#spread(fn, bits);
      }
  }

  /** Functions that a property of this name holds. */
  #byName(callee: Linked): readonly Linked[] {
    if (callee.type !== 'MemberExpression') return [];
    const candidates = this.#bindings.byProperty.get(propertyName(callee) ?? '') ?? [];
    return candidates.length <= MOST_CANDIDATES ? candidates : [];
  }

  /** Functions that are given themselves, or as parts of an object. */
  #functionsIn(given: Linked): FunctionNode[] {
    if (given.type === 'ObjectExpression' || given.type === 'SpreadElement') return [];
    return [...this.#bindings.valueOf(given).functions];
  }

  /** When what is given to a call runs; null for at once. */
  #phaseOfCallbacks(node: AnyNode & { type: 'CallExpression' | 'NewExpression' }): number | null {
    const { callee } = node;
    const name = nameOf(callee);
    if (LISTENS.test(name)) return phaseOfEvent(constantText(node.arguments[0]), callee);
    if (SOON.test(name) || OBSERVERS.test(name)) return BITS.soon;
    if (name === 'ready') return BITS.ready;
    const own = this.#bindings.valueOf(callee as Linked);
    // `$(function () { … })`: the ready function of a library. What else it may be, it is called by another script.
    if (own.functions.size === 0 && own.roots.size > 0)
      return callee.type === 'Identifier' && node.arguments.length === 1
        ? BITS.ready
        : BITS.perhaps | BITS.called;
    return null;
  }

  /** What a function runs at that is not called where it is made. */
  #stands(fn: FunctionNode): void {
    const { up } = fn;
    if (!up) return;
    if (up.type === 'AssignmentExpression' && up.left.type === 'MemberExpression') {
      const name = propertyName(up.left) ?? '';
      if (/^on[a-z]+$/.test(name)) {
        this.#spread(fn, phaseOfEvent(name.slice(2), up.left));
        return;
      }
    }
    const called = up.type === 'CallExpression' || up.type === 'NewExpression';
    if (!called || (up.callee !== fn && !up.arguments.includes(fn as never))) {
      // Declared within a function it is called by name there, which is followed; elsewhere others may call it.
      const local = fn.type === 'FunctionDeclaration' && fn.owner?.type !== 'Program';
      if (!local && up.type !== 'VariableDeclarator' && up.type !== 'MemberExpression')
        this.#spread(fn, BITS.called);
      else if (up.type === 'VariableDeclarator' && fn.owner?.type === 'Program')
        this.#spread(fn, BITS.called);
    }
  }
}

/** Where a function is only perhaps called at once, what it does is only perhaps done. */
function unsure(bits: number): number {
  return bits & BITS.run ? (bits & ~BITS.run) | BITS.perhaps : bits;
}

function nameOf(callee: AnyNode): string {
  if (callee.type === 'Identifier') return callee.name;
  return callee.type === 'MemberExpression' ? (propertyName(callee) ?? '') : '';
}

function phaseOfEvent(event: string | null, target: AnyNode): number {
  if (event === null) return BITS.soon | BITS.input;
  const names = event.split(/\s+/).map((one) => one.replace(/\..*/, ''));
  let bits = 0;
  for (const name of names) {
    if (INPUT.test(name)) bits |= BITS.input;
    else if (READY.test(name) && isPageEvent(target)) bits |= BITS.ready;
    else bits |= BITS.soon;
  }
  return bits;
}

/** Whether a listener is set on the window or the document, and not on a picture, say. */
function isPageEvent(target: AnyNode): boolean {
  if (target.type === 'Identifier') return true;
  if (target.type !== 'MemberExpression') return false;
  const { object } = target;
  return (
    (object.type === 'Identifier' && object.name.length <= 2) ||
    (object.type === 'Identifier' && /^(window|self|document|doc|win)$/.test(object.name)) ||
    object.type === 'CallExpression' ||
    object.type === 'ThisExpression'
  );
}

function isFunctionNode(node: Linked): node is FunctionNode {
  return /^(FunctionDeclaration|FunctionExpression|ArrowFunctionExpression)$/.test(node.type);
}
