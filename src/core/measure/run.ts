import type { AssetKind, BlockingStatus, Discovery } from './discovery.ts';
import type { Metrics } from './metrics.ts';
import type { RunCircumstances } from './quality.ts';

/** One request of one run, times in ms from navigation start. */
export interface RequestTiming {
  id: string;
  url: string;
  method: string;
  kind: AssetKind;
  discovery: Discovery;
  blocking: BlockingStatus;
  priority: string;
  /** Priorities it was given after it had been asked for. */
  laterPriorities: string[];
  startMs: number;
  /** Set-up of the connection, when this request paid for it. */
  connectMs: { start: number; end: number } | null;
  sentMs: number | null;
  firstByteMs: number | null;
  endMs: number | null;
  status: number;
  wireBytes: number;
  failed: string | null;
}

/** The request that the page itself came by: the last document of the page's own frame that was shown. */
export function documentRequest(requests: readonly RequestTiming[]): RequestTiming | undefined {
  // A navigation that was answered 204 leaves the page where it is (HTML, "navigate").
  return requests.findLast((one) => one.kind === 'document' && one.status !== 204);
}

/** One stretch of work that the map speaks of: of the main thread, or drawing outside it. */
export interface MainThreadWork {
  kind: 'evaluate' | 'call' | 'parse-html' | 'style' | 'layout' | 'paint' | 'parse-css' | 'task' | 'draw';
  url: string | null;
  startMs: number;
  endMs: number;
}

export interface LongTask {
  startMs: number;
  endMs: number;
  /** The script that ran longest in it; null where none did. */
  script: string | null;
}

/** A picture of the viewport at a moment of the load; `image` is a JPEG. */
export interface Frame {
  atMs: number;
  image: Uint8Array;
  /** Visual completeness, 0 to 1, against the final picture. */
  completeness: number;
}

export interface ConsoleMessage {
  level: 'error' | 'warning';
  text: string;
  source: string;
}

/** How replay answered a request it had no exact answer for. */
export interface ReplayNote {
  url: string;
  matched: 'loose' | 'missing';
  answeredWith: string | null;
}

/** All that one run gave. */
export interface RunObservation {
  metrics: Metrics;
  requests: RequestTiming[];
  work: MainThreadWork[];
  longTasks: LongTask[];
  lcpElement: string | null;
  /** Address of the image that was the largest contentful paint; null where that was text or stood in the page itself. Earlier runs do not tell. */
  lcpUrl?: string | null;
  frames: Frame[];
  console: ConsoleMessage[];
  replayNotes: ReplayNote[];
  /** A full-size PNG of the viewport after the window, where one was asked for. */
  finalPicture: Uint8Array | null;
  windowMs: number;
  /** True when the page was still changing at the end of the window. */
  neverRested: boolean;
  /** The viewport in cells: when each became final. */
  heat: { columns: number; rows: number; finalMs: number[] };
  /** Content that keeps moving, and the Speed Index with it masked; null when nothing moves. */
  moving: MovingContent | null;
  circumstances: RunCircumstances;
  /** What of the run's figures does not agree. */
  disagreements: string[];
}

export interface MovingContent {
  /** Share of the viewport, 0 to 1. */
  share: number;
  elements: string[];
  /** Null when more than a tenth of the viewport moves: too little is left to judge by. */
  maskedSpeedIndexMs: number | null;
}
