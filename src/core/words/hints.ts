import type { HintInVain, InVain } from '../hints/own-hints.ts';
import { hostOf } from '../path/names.ts';

/** What is said of a hint that helps nothing. */
export interface VainHintFacts {
  /** Line of the page. */
  line: number;
  rel: HintInVain['rel'];
  host: string;
  why: InVain;
}

const WHY: Record<InVain, string> = {
  'own host': 'the name of the page’s own host is known already',
  'nothing asked': 'the page asks nothing of it',
  'other sort': 'what is asked there goes over a connection of the other sort (with crossorigin, or without)',
  twice: 'the same stands before it',
};

export function vainHintFacts({ element, rel, origin, why }: HintInVain): VainHintFacts {
  return { line: element.line, rel, host: hostOf(origin), why };
}

/** "line 4 of the page: preconnect for tiles.quay.test helps nothing, as the page asks nothing of it". */
export function inVainWords({ line, rel, host, why }: VainHintFacts): string {
  return `line ${line} of the page: ${rel} for ${host} helps nothing, as ${WHY[why]}`;
}
