import type { AtRule, Declaration, Root } from 'postcss';
import { dashedIn, identifiersIn, variablesIn } from '../css/names.ts';
import { unquote } from '../css/urls.ts';
import { coversAny, nearestFaces, readFace, type DeclaredFace, type PaintedFace } from '../fonts/faces.ts';

/** What outside the fold CSS already needs: text of inline styles and `style` attributes of the page. */
export interface OutsideNeeds {
  css: string;
  faces: readonly PaintedFace[];
}

/**
 * Leaves, of the chosen sheets, only the custom properties, keyframes, registered properties, counter
 * styles and font faces that what is kept refers to, directly or through each other.
 */
export function closeOver(roots: readonly Root[], outside: OutsideNeeds): void {
  pruneCustomProperties(roots, outside.css);
  pruneKeyframes(roots, outside.css);
  pruneFaces(roots, outside.faces);
  for (const root of roots) removeEmpty(root);
}

function pruneCustomProperties(roots: readonly Root[], outside: string): void {
  const uses = new Set<string>(variablesIn(outside));
  const definitions = new Map<string, Declaration[]>();
  for (const root of roots) {
    root.walkDecls((declaration) => {
      if (declaration.prop.startsWith('--')) {
        const same = definitions.get(declaration.prop);
        if (same) same.push(declaration);
        else definitions.set(declaration.prop, [declaration]);
      } else for (const name of variablesIn(declaration.value)) uses.add(name);
      if (/^position-try/i.test(declaration.prop))
        for (const name of dashedIn(declaration.value)) uses.add(name);
    });
    // @container style(--x) and @supports read custom properties too.
    root.walkAtRules(/^(container|supports)$/i, (rule) => {
      for (const name of dashedIn(rule.params)) uses.add(name);
    });
  }
  const reached = new Set<string>();
  const queue = [...uses];
  while (queue.length) {
    const name = queue.pop()!;
    if (reached.has(name)) continue;
    reached.add(name);
    for (const declaration of definitions.get(name) ?? []) queue.push(...variablesIn(declaration.value));
  }
  for (const [name, declarations] of definitions) {
    if (!reached.has(name)) for (const declaration of declarations) declaration.remove();
  }
  for (const root of roots) {
    root.walkAtRules(/^position-try$/i, (rule) => {
      if (!uses.has(rule.params.trim())) rule.remove();
    });
    root.walkAtRules(/^property$/i, (rule) => {
      if (!reached.has(rule.params.trim())) rule.remove();
    });
  }
}

function pruneKeyframes(roots: readonly Root[], outside: string): void {
  const named = new Set<string>(identifiersIn(outside));
  const inKeyframes = (declaration: Declaration) =>
    declaration.parent?.parent?.type === 'atrule' &&
    /keyframes$/i.test((declaration.parent.parent as AtRule).name);
  for (const root of roots) {
    root.walkDecls(/^(-webkit-)?animation(-name)?$|^list-style(-type)?$|^content$|^--/i, (declaration) => {
      if (!inKeyframes(declaration)) for (const name of identifiersIn(declaration.value)) named.add(name);
    });
  }
  for (const root of roots) {
    root.walkAtRules(/(keyframes|counter-style)$/i, (rule) => {
      if (!named.has(unquote(rule.params.trim()))) rule.remove();
    });
  }
}

function pruneFaces(roots: readonly Root[], wanted: readonly PaintedFace[]): void {
  const faces: { rule: AtRule; face: DeclaredFace }[] = [];
  for (const root of roots) {
    root.walkAtRules(/^font-face$/i, (rule) => {
      faces.push({ rule, face: readFace(rule) });
    });
    root.walkAtRules(/^font-(feature|palette)-values$/i, (rule) => {
      const families = familiesOf(rule);
      if (!wanted.some((want) => want.families.some((family) => families.includes(family)))) rule.remove();
    });
  }
  const kept = new Set<AtRule>();
  for (const want of wanted) {
    for (const family of want.families) {
      const candidates = faces.filter(
        ({ face }) => face.family === family && coversAny(face.ranges, want.characters),
      );
      const nearest = nearestFaces(candidates, want);
      for (const { rule } of nearest) kept.add(rule);
    }
  }
  for (const { rule } of faces) if (!kept.has(rule)) rule.remove();
}

/** The families that font feature or palette values are for: in the prelude, or in a descriptor (CSS Fonts 4, 6.9 and 9.2). */
function familiesOf(rule: AtRule): string[] {
  const named = /^font-feature-values$/i.test(rule.name)
    ? rule.params
    : (
        rule.nodes?.findLast((node) => node.type === 'decl' && /^font-family$/i.test(node.prop)) as
          Declaration | undefined
      )?.value;
  return (named ?? '').split(',').map((one) => unquote(one.trim()).toLowerCase());
}

function removeEmpty(root: Root): void {
  let removed = true;
  while (removed) {
    removed = false;
    root.walk((node) => {
      const empty = (node.type === 'rule' || node.type === 'atrule') && node.nodes?.length === 0;
      const names = node.type === 'atrule' && node.name.toLowerCase() === 'layer' && node.params;
      if (!empty) return;
      if (names) Reflect.deleteProperty(node, 'nodes');
      else node.remove();
      removed = true;
    });
  }
}
