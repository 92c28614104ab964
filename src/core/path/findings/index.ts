import {
  duplicateLibraries,
  idleFonts,
  idleScripts,
  idleSheets,
  pictures,
  repeatedDeclarations,
} from './content.ts';
import { heavyAnimations, heavyBackgrounds, staffOnly, waitingClicks } from './experience.ts';
import { findingWords } from '../../words/findings.ts';
import { BILL_LINES, type Finding, type FindingInput, type FoundFact } from './finding.ts';
import {
  earlyHosts,
  embeds,
  pastTheEdge,
  scatteredPlaces,
  serialChains,
  serverTime,
  shortLifetimes,
  thirdParties,
  uncompressedText,
  vainHints,
} from './network.ts';

export type { BillLine, Finding, FindingInput } from './finding.ts';

const RULES: readonly ((input: FindingInput) => FoundFact[])[] = [
  serialChains,
  idleSheets,
  idleScripts,
  earlyHosts,
  vainHints,
  thirdParties,
  serverTime,
  idleFonts,
  pictures,
  duplicateLibraries,
  uncompressedText,
  scatteredPlaces,
  pastTheEdge,
  embeds,
  heavyBackgrounds,
  heavyAnimations,
  waitingClicks,
  staffOnly,
  repeatedDeclarations,
  shortLifetimes,
];

/** What follows from a map, by the line of the bill it shortens, the most costly first. */
export function findingsOf(input: FindingInput): Finding[] {
  const { capture } = input;
  const others = new Set(capture.otherFiles);
  const exchanges = capture.exchanges.filter(({ url }) => !others.has(url));
  const asked = { ...input, capture: { ...capture, exchanges } };
  return RULES.flatMap((rule) => rule(asked))
    .sort(
      (a, b) =>
        BILL_LINES.indexOf(a.line) - BILL_LINES.indexOf(b.line) || (b.costMs ?? -1) - (a.costMs ?? -1),
    )
    .map((found) => ({ ...found, sentence: findingWords(found.facts) }));
}
