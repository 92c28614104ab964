import { constantText, propertyName, type Bindings, type Linked } from './bindings.ts';
import type { Phases } from './phases.ts';

/** Something in a script that restricts its treatment, with where it stands (line from 1). */
export interface Finding {
  what:
    | 'document.write'
    | 'currentScript'
    /** It asks for modules by addresses that are taken from its own. */
    | 'import'
    /** It looks for itself as the last element that has been parsed. */
    | 'last-script'
    /** It waits for DOMContentLoaded or load, and does not ask whether that is over. */
    | 'ready-listener'
    | 'load-listener'
    /** It waits for the page to become interactive. */
    | 'interactive-listener'
    /** It asks how far the page is, and goes by that. */
    | 'ready-state'
    | 'hides-page'
    /** It puts something at the end of what has been parsed so far. */
    | 'appends-to-body'
    | 'appends-to-head'
    /** It marks the root, or the body, for rules to go by. */
    | 'marks-root'
    /** It puts rules into the page. */
    | 'style-element'
    /** It holds what is of one visit: a token, a nonce, a name. */
    | 'visit-data';
  line: number;
  excerpt: string;
}

const VISIT_NAMES =
  /(csrf|xsrf|token|nonce|session|auth|jwt|user_?(id|name)?|e-?mail|cart|basket|visitor|request_?id|timestamp)/i;
/** A text that somebody made up would not look like this: a key, a hash, an identifier. */
const RANDOM_TEXT = /^(?=.*\d)(?=.*[a-f])[\w+/=-]{20,}$/i;

/** These count only where they are done with the script itself. */
const AT_ONCE = new Set<Finding['what']>([
  'last-script',
  'ready-state',
  'appends-to-body',
  'appends-to-head',
  'marks-root',
  'style-element',
]);

/** What restricts a script's treatment, by reading it. */
export function findingsIn(bindings: Bindings, phases: Phases, source: string): Finding[] {
  return new FindingReader(bindings, phases, source).read();
}

class FindingReader {
  #bindings: Bindings;
  #phases: Phases;
  #source: string;
  #lines: string[];
  #found: Finding[] = [];
  #listens = false;
  #askedAt: Linked[] = [];

  constructor(bindings: Bindings, phases: Phases, source: string) {
    this.#bindings = bindings;
    this.#phases = phases;
    this.#source = source;
    this.#lines = source.split('\n');
  }

  read(): Finding[] {
    for (const node of this.#bindings.nodes) {
      if (node.type === 'MemberExpression') this.#member(node);
      else if (node.type === 'CallExpression') this.#call(node);
      else if (node.type === 'AssignmentExpression') this.#assignment(node);
      else if (node.type === 'ImportExpression') this.#note('import', node);
      if (isVisitData(node)) this.#note('visit-data', node);
    }
    if (!this.#listens) for (const node of this.#askedAt) this.#note('ready-state', node);
    return this.#found;
  }

  #member(node: Linked & { type: 'MemberExpression' }): void {
    if (node.object.type === 'Super') return;
    const name = propertyName(node);
    const called = node.up?.type === 'CallExpression' && node.up.callee === node;
    if (
      /^(write|writeln|currentScript|readyState|scripts|lastChild|lastElementChild)$/.test(name ?? 'write')
    ) {
      const { document: page, surelyDocument } = this.#bindings.valueOf(node.object);
      // Which method of the document is called may be hidden; then it may be this one.
      const writes = (page && /^write(ln)?$/.test(name ?? '')) || (surelyDocument && name === null && called);
      if (writes && !this.#isJustAFrames(node.object as Linked)) this.#note('document.write', node);
      if (page && name === 'currentScript') this.#note('currentScript', node);
      if (page && name === 'readyState') this.#askedAt.push(node);
      if (page && name === 'scripts' && !takesFirst(node)) this.#note('last-script', node);
      if (/^last/.test(name ?? '') && this.#isBodyOrHead(node.object)) this.#note('last-script', node);
    }
  }

  /** Whether a name was given the document of a frame just before, in the same row of statements. */
  #isJustAFrames(node: Linked): boolean {
    if (node.type !== 'Identifier') return false;
    let statement: Linked = node;
    while (statement.up && statement.up.type !== 'BlockStatement' && statement.up.type !== 'Program')
      statement = statement.up;
    const block = statement.up;
    if (!block || !('body' in block) || !Array.isArray(block.body)) return false;
    const row = block.body as Linked[];
    for (let at = row.indexOf(statement) - 1; at >= 0; at--) {
      const before = row[at]!;
      // What happens in between may give it another one.
      if (before.type !== 'ExpressionStatement') return false;
      const { expression } = before;
      if (expression.type !== 'AssignmentExpression') continue;
      if (expression.left.type !== 'Identifier' || expression.left.name !== node.name) continue;
      const text = this.#source.slice(expression.right.start, expression.right.end);
      return expression.operator === '=' && /\.content(Window|Document)\b/.test(text);
    }
    return false;
  }

  #isBodyOrHead(node: Linked): boolean {
    return this.#partOfPage(node) !== null;
  }

  /** Which of the page's own elements an expression names; null for another. */
  #partOfPage(node: Linked): string | null {
    if (node.type !== 'MemberExpression' || node.object.type === 'Super') return null;
    const name = propertyName(node) ?? '';
    const is = /^(body|head|documentElement)$/.test(name) && this.#bindings.valueOf(node.object).document;
    return is ? name : null;
  }

  #call(node: Linked & { type: 'CallExpression' }): void {
    const { callee } = node;
    const name =
      callee.type === 'MemberExpression'
        ? propertyName(callee)
        : callee.type === 'Identifier'
          ? callee.name
          : null;
    const first = constantText(node.arguments[0]);
    if (name === 'addEventListener') {
      if (first === 'DOMContentLoaded') this.#listener('ready-listener', node, /loading|interactive|loaded/);
      if (first === 'readystatechange')
        this.#listener(
          /interactive/.test(this.#around(node)) ? 'interactive-listener' : 'ready-listener',
          node,
          null,
        );
      if (first === 'load' && this.#isOfPage(callee))
        this.#listener('load-listener', node, /loading|interactive|complete/);
    }
    if (
      /^(appendChild|append|insertAdjacent(HTML|Element))$/.test(name ?? '') &&
      callee.type === 'MemberExpression'
    ) {
      const where = this.#partOfPage(callee.object as Linked);
      const atEnd = !/^insert/.test(name!) || first === 'beforeend';
      if (atEnd && where === 'head') this.#note('appends-to-head', node);
      else if (atEnd && where) this.#note('appends-to-body', node);
    }
    const marks =
      callee.type === 'MemberExpression' &&
      (/^(set|toggle)Attribute$/.test(name ?? '')
        ? this.#partOfPage(callee.object as Linked)
        : /^(add|toggle|remove|replace)$/.test(name ?? '') &&
          callee.object.type === 'MemberExpression' &&
          propertyName(callee.object) === 'classList' &&
          this.#partOfPage(callee.object.object as Linked));
    if (marks && marks !== 'head') this.#note('marks-root', node);
    if (name === 'createElement' && first?.toLowerCase() === 'style') this.#note('style-element', node);
    if (name === 'insertRule') this.#note('style-element', node);
    const looksForScripts =
      (name === 'getElementsByTagName' || name === 'querySelectorAll') && /^script$/i.test(first ?? '');
    if (looksForScripts && !takesFirst(node)) this.#note('last-script', node);
  }

  /** `window.addEventListener`, not that of a picture. */
  #isOfPage(callee: Linked): boolean {
    if (callee.type === 'Identifier') return true;
    if (callee.type !== 'MemberExpression' || callee.object.type === 'Super') return false;
    const held = this.#bindings.valueOf(callee.object);
    return held.window || held.document;
  }

  #assignment(node: Linked & { type: 'AssignmentExpression' }): void {
    const { left, right } = node;
    if (left.type === 'Identifier' && left.name === 'onload' && this.#bindings.isGlobalName(left as never))
      this.#listener('load-listener', node, /loading|interactive|complete/);
    if (left.type !== 'MemberExpression' || left.object.type === 'Super') return;
    const name = propertyName(left);
    const held = this.#bindings.valueOf(left.object);
    if (name === 'onload' && (held.window || this.#isBodyOrHead(left.object)))
      this.#listener('load-listener', node, /loading|interactive|complete/);
    if (name === 'className' && this.#isBodyOrHead(left.object)) this.#note('marks-root', node);
    if (name === 'onreadystatechange' && held.document)
      this.#listener(
        /interactive/.test(this.#around(node)) ? 'interactive-listener' : 'ready-listener',
        node,
        null,
      );
    const style = left.object;
    if (
      /^(opacity|visibility|display)$/.test(name ?? '') &&
      style.type === 'MemberExpression' &&
      propertyName(style) === 'style' &&
      this.#isBodyOrHead(style.object as Linked) &&
      /^(0|hidden|none)$/.test(constantText(right) ?? '')
    )
      this.#note('hides-page', node);
  }

  /** A listener counts unless what stands around it asks whether its event is over. */
  #listener(what: Finding['what'], node: Linked, guard: RegExp | null): void {
    this.#listens = true;
    const around = this.#around(node);
    if (!guard || !/readyState/.test(around) || !guard.test(around)) this.#note(what, node);
  }

  /** The text of the function that a node is part of; of the whole script where it is part of none. */
  #around(node: Linked): string {
    const { owner } = node;
    return owner && owner.type !== 'Program' ? this.#source.slice(owner.start, owner.end) : this.#source;
  }

  #note(what: Finding['what'], node: Linked): void {
    if (AT_ONCE.has(what) && !this.#phases.of(node).some((phase) => phase === 'run' || phase === 'perhaps'))
      return;
    const line = node.loc?.start.line ?? 1;
    if (this.#found.some((one) => one.what === what && one.line === line)) return;
    this.#found.push({
      what,
      line,
      excerpt: excerptOf(this.#lines[line - 1] ?? '', node.loc?.start.column ?? 0),
    });
  }
}

/** Whether of a list only the first is taken: what is put in before the first script stands well anywhere. */
function takesFirst(node: Linked): boolean {
  const { up } = node;
  return up?.type === 'MemberExpression' && up.object === node && constantText(up.property) === '0';
}

function isVisitData(node: Linked): boolean {
  if (node.type !== 'Literal' || typeof node.value !== 'string' || node.value === '') return false;
  const { up } = node;
  if (RANDOM_TEXT.test(node.value) && !/[./]/.test(node.value)) return true;
  const name =
    up?.type === 'Property' && up.value === node
      ? (keyText(up.key) ?? '')
      : up?.type === 'VariableDeclarator' && up.id.type === 'Identifier'
        ? up.id.name
        : up?.type === 'AssignmentExpression' && up.right === node && up.left.type === 'MemberExpression'
          ? (propertyName(up.left) ?? '')
          : '';
  return VISIT_NAMES.test(name);
}

function keyText(key: Linked): string | null {
  return key.type === 'Identifier' ? key.name : constantText(key);
}

function excerptOf(line: string, column: number): string {
  const from = Math.max(0, column - 30);
  return line.slice(from, from + 110).trim();
}
