import type { AnyNode } from 'acorn';
import { propertyName, type Bindings } from './bindings.ts';

/** Classes (`.name`) and attributes (`[name]`) that a script puts on, and takes from, any element. */
export function marksIn({ nodes }: Bindings): { addsMarks: string[]; removesMarks: string[] } {
  const addsMarks: string[] = [];
  const removesMarks: string[] = [];
  for (const node of nodes) {
    if (node.type === 'AssignmentExpression') {
      if (node.left.type !== 'MemberExpression' || propertyName(node.left) !== 'className') continue;
      const grows = node.operator === '+=';
      // `el.className = el.className.replace(/ ?away/, '')` takes away; `+=` adds.
      const takes = !grows && node.right.type === 'CallExpression';
      (takes ? removesMarks : addsMarks).push(...classesIn(textsOf(node.right)));
    }
    if (node.type !== 'CallExpression' || node.callee.type !== 'MemberExpression') continue;
    const name = propertyName(node.callee) ?? '';
    const { object } = node.callee;
    if (object.type === 'MemberExpression' && propertyName(object) === 'classList') {
      const classes = node.arguments.flatMap((one) =>
        one.type === 'Literal' && typeof one.value === 'string' ? [`.${one.value}`] : [],
      );
      if (name === 'add') addsMarks.push(...classes);
      if (name === 'remove' || name === 'toggle') removesMarks.push(...classes);
    }
    const [first] = node.arguments;
    if (!/^(setAttribute|toggleAttribute|removeAttribute)$/.test(name)) continue;
    if (first?.type !== 'Literal' || typeof first.value !== 'string') continue;
    const mark = `[${first.value.toLowerCase()}]`;
    // Which way a toggle goes is not known: both ways.
    if (name !== 'removeAttribute') addsMarks.push(mark);
    if (name !== 'setAttribute') removesMarks.push(mark);
  }
  return { addsMarks, removesMarks };
}

/** Texts and patterns anywhere in an expression. */
function textsOf(node: AnyNode): string[] {
  if (node.type === 'Literal') {
    if (typeof node.value === 'string') return [node.value];
    return 'regex' in node && node.regex
      ? [node.regex.pattern.replace(/\\[bsS][*+?]?|[\^$?*+()|]/g, ' ')]
      : [];
  }
  if (node.type === 'BinaryExpression')
    return [...(node.left.type === 'PrivateIdentifier' ? [] : textsOf(node.left)), ...textsOf(node.right)];
  if (node.type === 'CallExpression') return node.arguments.flatMap(textsOf);
  return [];
}

function classesIn(texts: readonly string[]): string[] {
  return texts
    .flatMap((text) => text.split(/\s+/))
    .filter((name) => /^[\w-]+$/.test(name))
    .map((name) => `.${name}`);
}
