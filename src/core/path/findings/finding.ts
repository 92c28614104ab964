import type { Conditions } from '../../measure/conditions.ts';
import type { AssetKind } from '../../measure/discovery.ts';
import type { Capture } from '../../measure/exchange.ts';
import type { LongTask, MainThreadWork } from '../../measure/run.ts';
import type { ServerMetric } from '../../measure/server-timing.ts';
import type { HtmlDocument } from '../../html/document.ts';
import type { KeptRule } from '../../fold/choose.ts';
import type { VainHintFacts } from '../../words/hints.ts';
import type { PaintTarget } from '../graph.ts';
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

/** What a finding says of this page, by its code; `core/words/findings.ts` makes the sentence. Sizes are bytes on the wire. */
export type FindingFacts =
  | { code: 'chain'; urls: string[]; lateMs: number; firstWas: 'run' | 'read' | 'there'; last: AssetKind }
  | {
      code: 'host';
      host: string;
      atMs: number;
      tookMs: number;
      trips: number;
      holding: string[];
      paint: PaintTarget | null;
    }
  | {
      code: 'party';
      owner: string;
      requests: number;
      bytes: number;
      ranMs: number;
      holding: string[];
      /** How many were asked for before the paint, which does not need them. */
      early: number;
      paint: PaintTarget | null;
    }
  | ({ code: 'hint in vain' } & VainHintFacts)
  | { code: 'plain on the wire'; urls: string[]; bytes: number }
  | { code: 'kept too short'; files: number; bytes: number }
  | { code: 'server'; serverMs: number; said: readonly ServerMetric[] }
  | { code: 'scattered'; kind: 'font' | 'stylesheet'; most: number; place: string; url: string; host: string }
  | { code: 'past the edge'; kind: string; host: string; all: number; past: string[]; slowestMs: number }
  | { code: 'embed'; url: string; requests: number; bytes: number; ranMs: number; startMs: number }
  | { code: 'idle sheet'; url: string; kept: number; rules: number; needs: string[] }
  | {
      code: 'hardly run';
      url: string;
      bytes: number;
      /** Before first paint; null where that is not known. */
      byPaintBytes: number | null;
      byLoadBytes: number;
    }
  | { code: 'idle fonts'; urls: string[]; bytes: number; paint: 'nothing' | 'below the fold' }
  | { code: 'loaded twice'; urls: string[] }
  | { code: 'versions'; library: string; all: { url: string; version: string }[] }
  | { code: PictureCode; urls: string[]; paint: PaintTarget | null }
  | { code: 'repeated'; url: string; times: number; declarations: string }
  | { code: 'click'; atMs: number; waitsMs: number; script: string | null }
  | { code: 'background'; url: string; bytes: number; element: string }
  | { code: 'animation'; element: string; name: string; properties: string[] }
  | { code: 'staff unknown' }
  | { code: 'staff'; urls: string[]; bytes: number };

/** What may be said of pictures. */
export type PictureCode =
  'no room kept' | 'fold picture held back' | 'low picture early' | 'more pixels than shown' | 'older format';

/** Something that follows from the map, with its figures. */
export interface FoundFact {
  id: string;
  line: BillLine;
  facts: FindingFacts;
  /** The assets it is about. */
  urls: string[];
  /** What it costs the paint at most, ms, where that can be said. */
  costMs: number | null;
  /** Registrable domains of the owner it is about, which the user may name. */
  domains?: string[];
}

/** What follows from the map, as a sentence about this page. */
export interface Finding extends FoundFact {
  sentence: string;
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
