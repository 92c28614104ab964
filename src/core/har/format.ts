/** HAR 1.2, as far as it is written and read here (the standard's own names). Fields that begin with "_wistrel" are ours. */
export interface HarFile {
  log: {
    version: '1.2';
    creator: { name: string; version: string };
    browser?: { name: string; version: string };
    pages: HarPage[];
    entries: HarEntry[];
    comment?: string;
  };
}

export interface HarPage {
  startedDateTime: string;
  id: string;
  title: string;
  pageTimings: { onContentLoad: number; onLoad: number; _wistrelFirstPaint?: number };
}

export interface HarPair {
  name: string;
  value: string;
}

export interface HarEntry {
  pageref: string;
  startedDateTime: string;
  /** The sum of the timings that are known, ms. */
  time: number;
  request: {
    method: string;
    url: string;
    httpVersion: string;
    cookies: HarPair[];
    headers: HarPair[];
    queryString: HarPair[];
    postData?: { mimeType: string; text: string };
    headersSize: number;
    bodySize: number;
  };
  response: {
    status: number;
    statusText: string;
    httpVersion: string;
    cookies: HarPair[];
    headers: HarPair[];
    content: { size: number; compression?: number; mimeType: string; text?: string; encoding?: string };
    redirectURL: string;
    headersSize: number;
    bodySize: number;
  };
  cache: Record<string, never>;
  timings: {
    blocked: number;
    dns: number;
    connect: number;
    send: number;
    wait: number;
    receive: number;
    ssl: number;
  };
  serverIPAddress?: string;
  /** What the standard has no field for. */
  _wistrelKind?: string;
  _wistrelServerMs?: number;
  _wistrelBlocking?: string;
  _wistrelPriorities?: string[];
  _wistrelFailed?: string;
}

/** What the standard writes where a figure is not known or does not apply. */
export const UNKNOWN = -1;
