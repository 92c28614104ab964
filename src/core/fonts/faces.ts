import type { AtRule } from 'postcss';
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

/** A face as a sheet declares it. */
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
  return {
    family: unquote(value('font-family') ?? '').toLowerCase(),
    weights: weightsIn(value('font-weight') ?? ''),
    italic: isSlanted(value('font-style') ?? ''),
    ranges: value('unicode-range') === null ? null : readRanges(value('unicode-range')!),
    sources:
      rule.nodes?.flatMap((node) =>
        node.type === 'decl' && node.prop.toLowerCase() === 'src' ? [node.value] : [],
      ) ?? [],
    display: value('font-display'),
  };
}

/** The range of weights that a face's `font-weight` declares; 400 where it declares none. */
export function weightsIn(text: string): [number, number] {
  const [low, high] = text.toLowerCase().trim().split(/\s+/).map(weightOf);
  return [low ?? 400, high ?? low ?? 400];
}

/** Whether a `font-style` is other than upright. */
export const isSlanted = (style: string) => /italic|oblique/i.test(style);

function weightOf(word: string): number {
  if (word === 'normal') return 400;
  if (word === 'bold') return 700;
  return Number(word) || 400;
}

/** Faces of the wanted slant and of the weight that is matched; with no such slant, the other one's. */
export function nearestFaces<T extends { face: Pick<DeclaredFace, 'weights' | 'italic'> }>(
  candidates: readonly T[],
  want: Pick<PaintedFace, 'weight' | 'italic'>,
): T[] {
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

/** Whether a face's `unicode-range` has any of these characters; without one it has all. */
export function coversAny(ranges: readonly [number, number][] | null, characters: string): boolean {
  if (!ranges) return true;
  for (const character of characters) {
    const code = character.codePointAt(0)!;
    if (ranges.some(([low, high]) => code >= low && code <= high)) return true;
  }
  return false;
}
