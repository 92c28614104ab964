import { parse, type AnyNode, type Program } from 'acorn';
import { fullAncestor } from 'acorn-walk';
import { declaringScope, scopesOf } from './scopes.ts';
import { windowAliases } from './window-aliases.ts';

/** Something in a script that restricts its treatment, with where it stands (line from 1). */
export interface Finding {
  what: 'document.write' | 'currentScript' | 'ready-listener' | 'load-listener' | 'hides-page';
  line: number;
  excerpt: string;
}

/** What a script needs and what it gives, found by parsing it. */
export interface ScriptFacts {
  /** Global names it defines: top-level declarations, assignments to window.x and to undeclared names. */
  defines: string[];
  /** Global names it reads at any depth, less its own and the platform's. */
  reads: { name: string; line: number }[];
  findings: Finding[];
  /** Classes (`.name`) and attributes (`[name]`) it puts on, and takes from, any element. */
  addsMarks: string[];
  removesMarks: string[];
  /** String literals that name the class of a consent or cookie interface. */
  speaksOfConsent: boolean;
  /** The message of the parser when the script could not be read; then nothing else is known. */
  unreadable: string | null;
}

const CONSENT = /consent|cookie[-_ ]?(notice|banner|bar|choice|preference|law)|gdpr|__tcfapi/i;

/**
 * Parses a script and says what it defines, reads and does that matters to when it may run.
 *
 * @param source script text; null where it is not known: then nothing may be said of it
 * @param kind how it is parsed; a classic script that only parses as a module is unreadable
 */
export function analyseScript(source: string | null, kind: 'script' | 'module' = 'script'): ScriptFacts {
  const facts: ScriptFacts = {
    defines: [],
    reads: [],
    findings: [],
    addsMarks: [],
    removesMarks: [],
    speaksOfConsent: CONSENT.test(source ?? ''),
    unreadable: source === null ? 'its text is not in the capture' : null,
  };
  if (source === null) return facts;
  let program: Program;
  try {
    program = parse(source, {
      ecmaVersion: 'latest',
      sourceType: kind,
      locations: true,
      allowHashBang: true,
      allowReturnOutsideFunction: false,
    });
  } catch (error) {
    facts.unreadable = error instanceof Error ? error.message : String(error);
    return facts;
  }
  const lines = source.split('\n');
  const defines = new Set<string>();
  const reads = new Map<string, number>();
  const scopes = scopesOf(program);
  const isWindow = windowAliases(program, scopes);
  const declared = (name: string, ancestors: readonly AnyNode[]) =>
    declaringScope(name, ancestors, scopes) !== undefined;
  const note = (what: Finding['what'], node: AnyNode) => {
    const line = node.loc?.start.line ?? 1;
    if (facts.findings.some((f) => f.what === what && f.line === line)) return;
    facts.findings.push({
      what,
      line,
      excerpt: excerptOf(lines[line - 1] ?? '', node.loc?.start.column ?? 0),
    });
  };

  if (kind === 'script') for (const name of scopes.get(program) ?? []) defines.add(name);

  fullAncestor(program, (node, _state, ancestors) => {
    const parent = ancestors.at(-2);
    switch (node.type) {
      case 'AssignmentExpression': {
        const left = node.left;
        const windowName =
          left.type === 'MemberExpression' ? globalMember(left, isWindow(left.object, ancestors)) : null;
        if (windowName) defines.add(windowName);
        if (left.type === 'Identifier' && !declared(left.name, ancestors)) defines.add(left.name);
        const target = left.type === 'MemberExpression' ? memberPath(left) : '';
        if (target.endsWith('.className')) {
          const added =
            node.operator === '+=' || mentions(node.right, 'className') ? literalsIn(node.right) : [];
          // `el.className = el.className.replace(/ ?away/, '')` takes away; `+=` adds.
          if (node.operator === '+=') facts.addsMarks.push(...classesIn(added));
          else if (node.right.type === 'CallExpression') facts.removesMarks.push(...classesIn(added));
          else facts.addsMarks.push(...classesIn(added));
        }
        if (/^document\.(documentElement|body)\.style\.(opacity|visibility|display)$/.test(target)) {
          const value = node.right.type === 'Literal' ? String(node.right.value) : '';
          if (/^(0|hidden|none)$/.test(value)) note('hides-page', node);
        }
        if (/(^|\.)onload$/.test(target) && /^(window|self|document\.body)?\.?onload$/.test(target))
          note('load-listener', node);
        return;
      }
      case 'CallExpression': {
        const callee = node.callee.type === 'MemberExpression' ? memberPath(node.callee) : '';
        if (/^(window\.)?document\.write(ln)?$/.test(callee)) note('document.write', node);
        const first = node.arguments[0];
        if (
          /addEventListener$/.test(callee) ||
          (node.callee.type === 'Identifier' && node.callee.name === 'addEventListener')
        ) {
          const event = first?.type === 'Literal' ? first.value : null;
          if (event === 'DOMContentLoaded' || event === 'readystatechange') note('ready-listener', node);
          if (
            event === 'load' &&
            /^(window\.|self\.|document\.)?addEventListener$/.test(callee || 'addEventListener')
          )
            note('load-listener', node);
        }
        const list = /\.classList\.(add|remove|toggle)$/.exec(callee);
        if (list) {
          const names = node.arguments.flatMap((a) =>
            a.type === 'Literal' && typeof a.value === 'string' ? [`.${a.value}`] : [],
          );
          (list[1] === 'add' ? facts.addsMarks : facts.removesMarks).push(...names);
        }
        const attribute = /\.(setAttribute|toggleAttribute|removeAttribute)$/.exec(callee);
        if (attribute && first?.type === 'Literal' && typeof first.value === 'string') {
          const mark = `[${first.value.toLowerCase()}]`;
          // Which way a toggle goes is not known: both ways.
          if (attribute[1] !== 'removeAttribute') facts.addsMarks.push(mark);
          if (attribute[1] !== 'setAttribute') facts.removesMarks.push(mark);
        }
        return;
      }
      case 'MemberExpression': {
        if (memberPath(node) === 'document.currentScript') note('currentScript', node);
        const name = globalMember(node, isWindow(node.object, ancestors));
        const written =
          parent?.type === 'AssignmentExpression' && parent.left === node && parent.operator === '=';
        if (name && !written && !reads.has(name)) reads.set(name, node.loc?.start.line ?? 1);
        return;
      }
      case 'Identifier': {
        if (!isRead(node, parent) || declared(node.name, ancestors)) return;
        if (!reads.has(node.name)) reads.set(node.name, node.loc?.start.line ?? 1);
        return;
      }
      default:
    }
  });

  facts.defines = [...defines];
  facts.reads = [...reads].filter(([name]) => !PLATFORM.has(name)).map(([name, line]) => ({ name, line }));
  return facts;
}

/** Names an inline event handler or expression reads. */
export function namesReadBy(handler: string): string[] {
  return analyseScript(`(function(event){${handler}\n})`).reads.map((read) => read.name);
}

/** What every page has: reading these says nothing about another script. */
const PLATFORM = new Set(
  (
    'window self globalThis document navigator location history screen console performance localStorage sessionStorage ' +
    'undefined NaN Infinity Object Array String Number Boolean Symbol Function Promise Map Set WeakMap WeakSet Proxy Reflect ' +
    'Date Math JSON RegExp Error TypeError RangeError SyntaxError BigInt Intl parseInt parseFloat isNaN isFinite ' +
    'encodeURIComponent decodeURIComponent encodeURI decodeURI escape unescape eval setTimeout clearTimeout setInterval ' +
    'clearInterval requestAnimationFrame cancelAnimationFrame requestIdleCallback cancelIdleCallback queueMicrotask fetch ' +
    'XMLHttpRequest Request Response Headers URL URLSearchParams FormData Blob File FileReader Event CustomEvent MouseEvent ' +
    'Node Element HTMLElement SVGElement Document DocumentFragment Text Image Audio Option MutationObserver ' +
    'IntersectionObserver ResizeObserver PerformanceObserver AbortController getComputedStyle matchMedia alert confirm prompt ' +
    'addEventListener removeEventListener dispatchEvent scrollTo scrollBy open close postMessage innerWidth innerHeight ' +
    'devicePixelRatio arguments customElements CSS Worker WebSocket DOMParser XMLSerializer crypto atob btoa ' +
    'ArrayBuffer Uint8Array Int8Array Uint16Array Int16Array Uint32Array Int32Array Float32Array Float64Array DataView TextEncoder ' +
    'TextDecoder pageXOffset pageYOffset scrollX scrollY ' +
    'onload onerror HTMLFormElement HTMLInputElement NodeList HTMLCollection Window event name status parent top frames'
  ).split(' '),
);

function isRead(node: AnyNode & { type: 'Identifier' }, parent: AnyNode | undefined): boolean {
  if (!parent) return false;
  switch (parent.type) {
    case 'MemberExpression':
      return parent.object === node || parent.computed;
    case 'Property':
    case 'PropertyDefinition':
    case 'MethodDefinition':
      return parent.value === node || (parent.computed && parent.key === node);
    case 'AssignmentExpression':
      return parent.left !== node || parent.operator !== '=';
    case 'LabeledStatement':
    case 'BreakStatement':
    case 'ContinueStatement':
    case 'MetaProperty':
    case 'ImportSpecifier':
    case 'ExportSpecifier':
      return false;
    case 'UnaryExpression':
      // `typeof x` asks whether a name is there: a guarded read.
      return parent.operator !== 'typeof';
    default:
      return true;
  }
}

function memberPath(node: AnyNode): string {
  if (node.type === 'Identifier') return node.name;
  if (node.type === 'ThisExpression') return 'this';
  if (node.type !== 'MemberExpression' || node.object.type === 'Super') return '?';
  const property =
    !node.computed && node.property.type === 'Identifier'
      ? node.property.name
      : node.property.type === 'Literal'
        ? String(node.property.value)
        : '?';
  return `${memberPath(node.object)}.${property}`;
}

/** The global name that a member of the global object is, or null. */
function globalMember(node: AnyNode & { type: 'MemberExpression' }, ofWindow: boolean): string | null {
  if (!ofWindow) return null;
  if (!node.computed && node.property.type === 'Identifier') return node.property.name;
  return node.property.type === 'Literal' && typeof node.property.value === 'string'
    ? node.property.value
    : null;
}

function literalsIn(node: AnyNode): string[] {
  const found: string[] = [];
  fullAncestor(node, (each) => {
    if (each.type === 'Literal') {
      if (typeof each.value === 'string') found.push(each.value);
      else if ('regex' in each && each.regex)
        found.push(each.regex.pattern.replace(/\\[bsS][*+?]?|[\^$?*+()|]/g, ' '));
    }
  });
  return found;
}

function classesIn(literals: readonly string[]): string[] {
  return literals
    .flatMap((text) => text.split(/\s+/))
    .filter((name) => /^[\w-]+$/.test(name))
    .map((name) => `.${name}`);
}

function mentions(node: AnyNode, property: string): boolean {
  let found = false;
  fullAncestor(node, (each) => {
    if (
      each.type === 'MemberExpression' &&
      each.property.type === 'Identifier' &&
      each.property.name === property
    )
      found = true;
  });
  return found;
}

function excerptOf(line: string, column: number): string {
  const from = Math.max(0, column - 30);
  return line.slice(from, from + 110).trim();
}
