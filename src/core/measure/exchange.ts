/** What an asset is, as the browser asked for it. */
export type AssetKind = 'document' | 'script' | 'stylesheet' | 'font' | 'image' | 'embed' | 'data' | 'other';

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
}

/** One recording of a page's load: every exchange, and where its document ended up after redirects. */
export interface Capture {
  url: string;
  /** The document's address after redirects. */
  documentUrl: string;
  title: string;
  takenAt: string;
  exchanges: Exchange[];
  /** For each stylesheet, what share of its rules applied to anything on the page, at load. */
  ruleUsage: RuleUsage[];
  /** Assets that one of the capture's loads saw and the other did not. */
  seenOnce: string[];
  /** Hosts whose own-made certificate was accepted for this capture. */
  acceptedCertificates: string[];
  notes: string[];
}

export interface RuleUsage {
  url: string;
  rules: number;
  usedRules: number;
}

/** The exact body bytes of a capture, by SHA-256 hex. */
export type Bodies = ReadonlyMap<string, Uint8Array>;
