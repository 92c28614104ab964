import type { Conditions } from '../../measure/conditions.ts';
import type { Capture } from '../../measure/exchange.ts';
import type { LongTask, MainThreadWork } from '../../measure/run.ts';
import type { HtmlDocument } from '../../html/document.ts';
import type { KeptRule } from '../../fold/choose.ts';
import type { PageMap } from '../map.ts';

/** The line of the bill that a finding shortens. */
export type BillLine = 'connecting' | 'server' | 'bytes' | 'waiting' | 'main thread' | 'after the paint';

export const BILL_LINES: readonly BillLine[] = [
  'waiting',
  'connecting',
  'server',
  'bytes',
  'main thread',
  'after the paint',
];

/** Something that follows from the map, as a sentence about this page with its figures. */
export interface Finding {
  id: string;
  line: BillLine;
  sentence: string;
  /** The assets it is about. */
  urls: string[];
  /** What it costs the paint at most, ms, where that can be said. */
  costMs: number | null;
  /** Registrable domains of the owner it is about, which the user may name. */
  domains?: string[];
}

/** All that findings are drawn from. */
export interface FindingInput {
  map: PageMap;
  capture: Capture;
  conditions: Conditions;
  work: readonly MainThreadWork[];
  longTasks: readonly LongTask[];
  html: HtmlDocument;
  /** Text of a captured file, or null. */
  text: (url: string) => string | null;
  /** Rules kept for the fold and how many each sheet has, where fold CSS was made. */
  fold: { kept: KeptRule[]; rulesOf: (sheetUrl: string) => number | null; fonts: string[] } | null;
  /** Names the user gave to groups of hosts: registrable domain to name. */
  owners: ReadonlyMap<string, string>;
  /**
   * For a capture with the user's own sign-in or steps: what a capture as any visitor asked for, null where
   * none was made. Null for a capture as any visitor.
   */
  visitor: { urls: ReadonlySet<string> | null } | null;
}
