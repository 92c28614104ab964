import type { FaceCut } from '../css/cut-faces.ts';
import type { FaceFit } from '../fonts/fit.ts';
import type { RulePlace } from '../fonts/rule-places.ts';
import type { HtmlElement } from '../html/document.ts';
import type { BehindFile } from '../images/behind-files.ts';
import type { PlanRule } from './plan.ts';

/** What becomes of one element of the page. What is not named stays byte for byte. */
export interface ElementChange {
  element: HtmlElement;
  /** Attributes to set, or to take away where null. */
  attributes?: Readonly<Record<string, string | null>>;
  /** What its content becomes. */
  content?: string;
  gone?: true;
  /** A deferred script that stands behind it. */
  scriptAfter?: { src: string };
  /** A style element that stands before it. */
  styleBefore?: { css: string; media: string };
  /** The element as authored stands behind it for browsers that run no scripts. */
  fallback?: true;
}

/** Markup that is put around an element, which stays as it is, or as another rule makes it. */
export interface Wrap {
  element: HtmlElement;
  before: string;
  after: string;
}

/** A tag that stands early in the head. */
export interface HeadTag {
  tag: string;
  title: string;
}

/** A script or style of ours that the page needs, once however many rules need it. */
export interface HeadPart {
  text: string;
  title: string;
  /** Of a script that is no code. */
  type?: string;
}

/** A file that the treated page needs besides its HTML. */
export interface NewFile {
  url: string;
  mimeType: string;
  /** Text is written as UTF-8; what is no text is bytes as they were captured. */
  content: string | Uint8Array;
}

/** Faces of a font family that show other fonts while their files are on the way. */
export interface FaceSwap {
  /** Where the faces are declared. */
  place: RulePlace;
  family: string;
}

/** One of several files, as who asks for it ahead has to say. */
export interface ChosenFile {
  href: string;
  /** Its MIME type, where not all browsers know it. */
  type: string | null;
  /** On which screens it is shown; null for all. */
  media: string | null;
}

/** What a treatment contributes to a page. Contributions know nothing of each other; `compose` puts them together. */
export interface Contribution {
  elements?: readonly ElementChange[];
  wraps?: readonly Wrap[];
  headTags?: readonly HeadTag[];
  /** Links of sheets that scripts wait for at the end of the body, though the page does without them. */
  holds?: readonly string[];
  headScripts?: readonly HeadPart[];
  /** They stand before all others. */
  headStyles?: readonly HeadPart[];
  /** They stand at the end of the body. */
  endTags?: readonly HeadTag[];
  endScripts?: readonly HeadPart[];
  files?: readonly NewFile[];
  faceSwaps?: readonly FaceSwap[];
  /** Fallbacks with the measures of faces, named wherever the page's sheets list these. */
  faceFits?: readonly FaceFit[];
  /** Faces that ask for a smaller file first, wherever the page's own sheets declare them. */
  faceCuts?: readonly FaceCut[];
  /** What stands beside files that styles put behind elements, wherever the page's own sheets name these. */
  behind?: ReadonlyMap<string, BehindFile>;
  /** Addresses in whose place one of several is shown, which says what it is for. */
  chosen?: ReadonlyMap<string, readonly ChosenFile[]>;
  /** Addresses that are asked for under others, whoever asks for them ahead too. */
  moved?: ReadonlyMap<string, string>;
  /** Addresses that the page no longer asks for as it loads, on some screens at least. */
  takenOut?: readonly string[];
}

/** What one rule contributes. */
export interface RuleContribution {
  rule: PlanRule;
  contribution: Contribution;
}
