import type { Discovery } from '../../src/core/measure/discovery.ts';
import type { RequestTiming } from '../../src/core/measure/run.ts';

/** Found by the parser, in the HTML of a document. */
export const inPage = (document: string): Discovery => ({ by: 'parser', document, line: 1 });

/** A request of a measured run. */
export function madeRequest(url: string, discovery: Discovery, wireBytes = 1_000): RequestTiming {
  return {
    id: url,
    url,
    method: 'GET',
    kind: 'other',
    discovery,
    blocking: 'non-blocking',
    priority: 'Low',
    laterPriorities: [],
    startMs: 0,
    connectMs: null,
    sentMs: null,
    firstByteMs: null,
    endMs: 1,
    status: 200,
    wireBytes,
    failed: null,
  };
}
