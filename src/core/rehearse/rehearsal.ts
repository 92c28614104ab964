import type { PageCheck } from '../checks/page-check.ts';
import type { Plan } from '../treat/plan.ts';

/** Another way of rehearsing, or of treating, has another number: what is kept of before is rehearsed again. */
export const REHEARSAL_VERSION = 9;

/** A rule that rehearsing has changed, with what it showed. */
export interface Exception {
  ruleId: string;
  treatment: string;
  becomes: string;
  /** "As treated, the page …, when …". */
  evidence: string;
}

/** What a rehearsal has found before it is through: it goes on from there. */
export interface FoundSoFar {
  /** What is left of the plan. */
  plan: Plan;
  exceptions: Exception[];
}

/** What shows that a rule is at fault, each a PNG of what was on screen. */
export interface EvidencePictures {
  ruleId: string;
  authored: Uint8Array;
  treated: Uint8Array;
  /** The page as treated, where it differs marked. */
  difference: Uint8Array;
}

/** What loading a page with a plan, beside the page as authored, has shown. */
export interface Rehearsal {
  /** The plan with what is at fault excepted. */
  plan: Plan;
  exceptions: Exception[];
  /** So many rules were at fault, or finding them took so long, that none is left. */
  gaveUp: boolean;
  /** How many orders of arrival, at how many viewports, held the page as treated to itself as authored. */
  held: number;
  /** What was done on the page as a visitor would, with what is left of the plan. */
  deeds: PageCheck[];
  /** Orders that the time did not suffice for. */
  left: string[];
  /** What is not the same twice as authored, in words; it was held against nothing. */
  masked: string[];
  /** What the page changes by itself while nobody does anything, in words; in which state it is was not compared. */
  byItself: string[];
  /** Elements whose attributes depend on the order of arrival as authored: its scripts race each other. */
  races: string[];
  /** What comes later in the document than as authored, each as a sentence. */
  later: string[];
}

/** What is at fault in the plan that went in, each as a sentence; none where the page holds. */
export function faultsOf({ exceptions, gaveUp }: Pick<Rehearsal, 'exceptions' | 'gaveUp'>): string[] {
  return [
    ...exceptions.map(({ ruleId, evidence }) => `${ruleId}: ${evidence}`),
    ...(gaveUp
      ? [
          `More is at fault than ${exceptions.length === 1 ? 'one rule' : `${exceptions.length} rules`}: the rest was not found in time.`,
        ]
      : []),
  ];
}
