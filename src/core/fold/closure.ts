import type { AtRule, Declaration, Root } from 'postcss';
import { dashedIn, identifiersIn, variablesIn } from '../css/names.ts';
import { unquote } from '../css/urls.ts';

/** A face that text above the fold asks for. */
export interface PaintedFace {
  /** Family names in their computed order, lower case, unquoted. */
  families: string[];
  weight: number;
  italic: boolean;
  /** The characters it has to paint, each once. */
  characters: string;
}

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

export interface DeclaredFace {
  family: string;
  weights: [number, number];
  italic: boolean;
  ranges: [number, number][] | null;
  sources: string[];
  display: string | null;
}

/** Reads an @font-face rule's descriptors (CSS Fonts 4, section 4). */
export function readFace(rule: AtRule): DeclaredFace {
  const value = (name: string) => {
    const found = rule.nodes?.findLast((node) => node.type === 'decl' && node.prop.toLowerCase() === name);
    return found?.type === 'decl' ? found.value.trim() : null;
  };
  const weights = (value('font-weight') ?? '400').toLowerCase().split(/\s+/).map(weightOf);
  return {
    family: unquote(value('font-family') ?? '').toLowerCase(),
    weights: [weights[0] ?? 400, weights[1] ?? weights[0] ?? 400],
    italic: /italic|oblique/i.test(value('font-style') ?? ''),
    ranges: value('unicode-range') === null ? null : readRanges(value('unicode-range')!),
    sources:
      rule.nodes?.flatMap((node) =>
        node.type === 'decl' && node.prop.toLowerCase() === 'src' ? [node.value] : [],
      ) ?? [],
    display: value('font-display'),
  };
}

function weightOf(word: string): number {
  if (word === 'normal') return 400;
  if (word === 'bold') return 700;
  return Number(word) || 400;
}

/** Faces of the wanted slant and of the weight that is matched; with no such slant, the other one's. */
function nearestFaces<T extends { face: DeclaredFace }>(candidates: readonly T[], want: PaintedFace): T[] {
  const slanted = candidates.filter(({ face }) => face.italic === want.italic);
  const pool = slanted.length ? slanted : candidates;
  const best = Math.min(...pool.map(({ face }) => weightRank(face.weights, want.weight)));
  return pool.filter(({ face }) => weightRank(face.weights, want.weight) === best);
}

/** Above any distance between two weights. */
const OTHER_SIDE = 1_000;

/**
 * In which order weights are tried, lowest first (CSS Fonts 4, section 5.2, step 4.3): a light one is looked for
 * below first, a bold one above first, and between 400 and 500 up to 500, then below, then above.
 */
function weightRank([low, high]: readonly [number, number], wanted: number): number {
  if (wanted >= low && wanted <= high) return 0;
  const above = low > wanted;
  const distance = above ? low - wanted : wanted - high;
  if (wanted > 500) return above ? distance : OTHER_SIDE + distance;
  if (wanted < 400) return above ? OTHER_SIDE + distance : distance;
  if (above && low <= 500) return distance;
  return above ? 2 * OTHER_SIDE + distance : OTHER_SIDE + distance;
}

function readRanges(text: string): [number, number][] {
  return text.split(',').flatMap((part): [number, number][] => {
    const match = /^\s*u\+([0-9a-f?]+)(?:-([0-9a-f]+))?\s*$/i.exec(part);
    if (!match) return [];
    const low = parseInt(match[1]!.replaceAll('?', '0'), 16);
    const high = match[2] ? parseInt(match[2], 16) : parseInt(match[1]!.replaceAll('?', 'f'), 16);
    return [[low, high]];
  });
}

function coversAny(ranges: readonly [number, number][] | null, characters: string): boolean {
  if (!ranges) return true;
  for (const character of characters) {
    const code = character.codePointAt(0)!;
    if (ranges.some(([low, high]) => code >= low && code <= high)) return true;
  }
  return false;
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
