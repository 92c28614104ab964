import type { GiveUp } from './budget.ts';
import type { FoldDecision } from './decisions.ts';
import type { FoldSheet } from './fold-css.ts';
import type { RestMode } from './rest-mode.ts';
import type { FoldFingerprint } from './staleness.ts';
import type { FoldViewport } from './viewports.ts';
import type { Need } from './choose.ts';
import type { PaintedFace } from '../fonts/faces.ts';
import type { Concern } from './declarations.ts';

/** A rectangle of a picture, CSS px. */
export interface Area {
  left: number;
  top: number;
  width: number;
  height: number;
}

/** What pages said, in a form that can be stored and put together with what other pages of a family said. */
export interface StoredAnswers {
  concerns: [string, Concern][];
  neededBy: [string, Need[]][];
  everUsed: string[];
  rejected: string[];
  liveMedia: string[];
  faces: PaintedFace[];
  outsideCss: string;
}

/** What still differs at a place of the picture: the element there, and the rule it lacks. */
export interface MarkedDifference extends Area {
  pixels: number;
  element: string | null;
  property: string | null;
  rule: { selector: string; sheet: string } | null;
}

/** The proof at one viewport. */
export interface ViewportProof extends FoldViewport {
  /** A width between the chosen viewports. */
  between: boolean;
  differingPixelShare: number;
  /** Pixels of the greatest connected region that differs. */
  largestRegionPixels: number;
  /** Elements above the fold that stand or look otherwise. */
  otherElements: number;
  /** Share of the picture that is not compared because the user left something out there. */
  maskedShare: number;
  /** What the page's own two looks disagree in, as a share of the picture and by its elements; null where it is the same twice. */
  unsteady: { share: number; elements: string[] } | null;
  /** So much of it is not the same twice that nothing can be said. */
  undecided: boolean;
  blank: boolean;
  holds: boolean;
  differences: MarkedDifference[];
  /** Elements above the fold with all CSS, for pointing at. */
  elements: (Area & { selector: string })[];
}

/** The second proof, after the rest of the CSS has arrived, at one viewport. */
export interface LateProof extends FoldViewport {
  differingPixelShare: number;
  /** Elements of the whole page that stand or look otherwise than with the page as authored. */
  otherElements: number;
  firstOther: string | null;
  /** Layout shift that the arrival caused (Layout Instability). */
  layoutShift: number;
  holds: boolean;
}

/** How the rest of the CSS arrives. */
export interface LateRest {
  /** The mode that was asked for, and the one that holds. */
  asked: RestMode;
  mode: RestMode;
  /** Files that stand for the sheets; none where whole sheets are loaded late. */
  files: { sheetUrl: string; css: string; taken: number; unused: number }[];
  proofs: LateProof[];
  holds: boolean;
}

export interface FoldTimings {
  /** Reading the stylesheets and choosing rules. */
  choosingMs: number;
  /** Asking the page which selectors match what. */
  askingMs: number;
  /** Everything but waiting for pages to load. */
  beyondLoadingMs: number;
  totalMs: number;
}

/** A set of fold CSS with its proof, less the pictures. */
export interface FoldRecord {
  takenAt: string;
  sheets: FoldSheet[];
  css: string;
  sourceBytes: number;
  sourceCompressedBytes: number;
  foldBytes: number;
  foldCompressedBytes: number;
  /** Compressed size of the page's head with the fold CSS in it, and the budget for it. */
  headCompressedBytes: number;
  budgetBytes: number;
  /** What to give up first when the budget is exceeded; empty when it is kept. */
  giveUps: GiveUp[];
  /** Declarations left out because others override them everywhere above the fold. */
  overridden: number;
  viewports: ViewportProof[];
  /** Null for a set made by a version that did not prove it. */
  late: LateRest | null;
  proved: boolean;
  /** Why it is not proved, or what else is to be known. */
  remarks: string[];
  rounds: number;
  /** Font files that paint text above the fold, by address. */
  foldFonts: string[];
  decisions: FoldDecision[];
  /** Null for a set made by a version that kept none. */
  fingerprint: FoldFingerprint | null;
  /** Made with the answers of other pages of the family. */
  shared: boolean;
  timings: FoldTimings | null;
}
