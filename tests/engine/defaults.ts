import { findConditions } from '../../src/core/measure/conditions.ts';
import type { Exchange } from '../../src/core/measure/exchange.ts';
import type { RequestTiming } from '../../src/core/measure/run.ts';
import { AS_VISITOR } from '../../src/core/measure/visit.ts';
import type { CaptureRequest } from '../../src/engine/capture/capture-page.ts';

/** A capture as any visitor makes it, on the home laptop. */
export function visitorCapture(url: string, over: Partial<CaptureRequest> = {}): CaptureRequest {
  return {
    url,
    conditions: findConditions('home-laptop')!,
    accepted: [],
    visit: AS_VISITOR,
    ownClock: true,
    ...over,
  };
}

/** One run, of first visits only, on a machine whose speed is not known yet. */
export const ONE_RUN = { runs: 1, returnVisits: false, yardstick: null };

/** An answered GET with nothing special about it. */
export function exchangeOf(over: Partial<Exchange> & { url: string }): Exchange {
  return {
    order: 0,
    method: 'GET',
    kind: 'data',
    status: 200,
    responseHeaders: [],
    mimeType: '',
    bodyHash: null,
    bodyBytes: 1,
    wireBytes: 1,
    serverMs: 5,
    protocol: 'h2',
    outcome: { state: 'answered' },
    requestHeaders: [],
    requestBody: null,
    startMs: 0,
    timings: null,
    priorities: ['High'],
    blocking: 'non-blocking',
    discovery: { by: 'other' },
    remote: '',
    ...over,
  };
}

/** The page that the made-up requests are of. */
export const QUAY = 'https://www.quay.test/';

/** A request of a run with nothing special about it: a script that the parser came upon, and holds nothing up. */
export function requestOf(over: Partial<RequestTiming> & { url: string }): RequestTiming {
  return {
    id: over.url,
    method: 'GET',
    kind: 'script',
    discovery: { by: 'parser', document: QUAY, line: 3 },
    blocking: 'non-blocking',
    priority: 'High',
    laterPriorities: [],
    startMs: 420,
    connectMs: null,
    sentMs: 425,
    firstByteMs: 525,
    endMs: 575,
    status: 200,
    wireBytes: 1_000,
    failed: null,
    ...over,
  };
}
