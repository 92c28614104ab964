import type { AssetKind, BlockingStatus, Discovery } from './discovery.ts';
import type { LighterFiles } from './lighter-files.ts';

/** How an exchange ended. */
export type Outcome =
  { state: 'answered' } | { state: 'redirected'; to: string } | { state: 'failed'; reason: string };

export type Header = readonly [name: string, value: string];

/**
 * One request and its answer as recorded from the live page. `bodyHash` names the exact body bytes, which
 * are kept apart (SHA-256, hex); an exchange without a body (a redirect, a failure) has none.
 */
export interface Exchange {
  /** Position in the order of requests, from 0. */
  order: number;
  method: string;
  url: string;
  kind: AssetKind;
  status: number;
  responseHeaders: Header[];
  mimeType: string;
  bodyHash: string | null;
  bodyBytes: number;
  /** Bytes the body took on the wire, compressed as the live server sent it. */
  wireBytes: number;
  /** The server's own time: from the request sent to the first byte of the answer, ms. */
  serverMs: number;
  protocol: string;
  outcome: Outcome;
  requestHeaders: Header[];
  /** What was sent with the request, as text; null where nothing was. */
  requestBody: string | null;
  /** When it was asked for on the live site, ms from navigation start. */
  startMs: number;
  /** Its stretches on the live site; null where the browser told none (from its cache, failed). */
  timings: ExchangeTimings | null;
  /** The browser's priority when it asked, and what it changed it to later. */
  priorities: string[];
  blocking: BlockingStatus;
  discovery: Discovery;
  /** Address and port that answered. */
  remote: string;
}

/** Stretches of one exchange, ms; null where there was none (a connection that was there already). */
export interface ExchangeTimings {
  queuedMs: number;
  dnsMs: number | null;
  connectMs: number | null;
  /** Part of `connectMs`. */
  tlsMs: number | null;
  sendMs: number;
  waitMs: number;
  receiveMs: number;
}

/** What scripts are told of time and chance: the same at capture and in every replay. */
export interface PageClock {
  seed: number;
  /** The time of day at navigation start, ms since 1970. */
  startMs: number;
}

/** What one load of the live page showed, untimed. */
export interface Observations {
  /** For each stylesheet, how many of its rules applied to anything on the page, at load. */
  ruleUsage: RuleUsage[];
  scriptUsage: ScriptUsage[];
  fonts: FontUse[];
  /** Downloaded font files, once for each face they stand in. */
  fontFiles: FontFile[];
  lcp: { element: string; url: string | null; box: Box | null } | null;
  shifts: { atMs: number; score: number; sources: { element: string; from: Box; to: Box }[] }[];
  /** Boxes of what stands above the fold: images, embeds, headings, text blocks. */
  boxes: {
    element: string;
    tag: string;
    url: string | null;
    box: Box;
    /** A picture's own size in pixels. */
    natural: { width: number; height: number } | null;
  }[];
  /** Files of images that stand below the fold, and nowhere else. What is laid out nowhere is not told. */
  imagesBelow: string[];
  /** Addresses of embeds that stand below the fold, and nowhere else, as the markup says them. */
  embedsBelow: string[];
  /** Pictures behind elements above the fold; files of others do not tell. */
  backgrounds: { element: string; url: string }[];
  /** What is animated above the fold; not told by files of others either. */
  animations: { element: string; name: string; properties: string[]; endless: boolean }[];
}

/** Of a load that nobody watched. */
export const NOTHING_OBSERVED: Observations = {
  ruleUsage: [],
  scriptUsage: [],
  fonts: [],
  fontFiles: [],
  lcp: null,
  shifts: [],
  boxes: [],
  imagesBelow: [],
  embedsBelow: [],
  backgrounds: [],
  animations: [],
};

/** How many of a script's bytes (characters) ran until load, and until first paint. */
export interface ScriptUsage {
  url: string;
  bytes: number;
  usedBytes: number;
  /** Null where the page never painted. */
  usedByPaintBytes: number | null;
}

/** A rectangle in CSS pixels of the page. */
export interface Box {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** A downloaded font file as the browser took it in. */
export interface FontFile {
  url: string;
  /** The name within the file. */
  family: string;
  /** What its face declares, least and greatest weight. */
  weights: [number, number];
  italic: boolean;
}

/** A font as the page really used it, once for each weight and slant. */
export interface FontUse {
  family: string;
  /** As the text asked for it. */
  weight: number;
  italic: boolean;
  /** Downloaded for this page, or of the system's own. */
  custom: boolean;
  glyphs: number;
  /** The beginning of a text it paints, and where that stands. */
  sample: string;
  box: Box;
  aboveFold: boolean;
}

/** One recording of a page's load: every exchange, and where its document ended up after redirects. */
export interface Capture {
  url: string;
  /** The document's address after redirects. */
  documentUrl: string;
  title: string;
  takenAt: string;
  exchanges: Exchange[];
  observations: Observations;
  /** The clock and chance that its scripts were given; null where they had the real ones. */
  clock: PageClock | null;
  /** Assets that stood in the page as data: URLs. */
  dataUrls: { mimeType: string; bytes: number; kind: AssetKind }[];
  /** Assets that one of the capture's loads saw and the other did not. */
  seenOnce: string[];
  /** Images that the markup has for other screens: this one did not ask for them, the capture did. Absent where there are none. */
  otherFiles?: string[];
  /** Hosts whose own-made certificate was accepted for this capture. */
  acceptedCertificates: string[];
  notes: string[];
  /** Lighter versions made of its images since; absent where none were. They are kept beside it. */
  lighter?: LighterFiles;
}

export interface RuleUsage {
  url: string;
  rules: number;
  usedRules: number;
}

/** The exact body bytes of a capture, by SHA-256 hex. */
export type Bodies = ReadonlyMap<string, Uint8Array>;
