import { describe, expect, it } from 'vitest';
import type { RecordedRequest } from '../chromium/network-recorder.ts';
import type { Answer } from './intercept.ts';
import { joinLoads } from './join-loads.ts';
import { BODY_LIMIT, CAPTURE_LIMIT } from '../limits.ts';

const URL_A = 'https://quay.test/a.js';

function record(
  over: Partial<RecordedRequest> = {},
  timing: Record<string, number> | null = null,
): RecordedRequest {
  return {
    id: '1',
    url: URL_A,
    method: 'GET',
    kind: 'script',
    initiator: { type: 'other' },
    blocking: 'non-blocking',
    priority: 'High',
    laterPriorities: [],
    requestHeaders: { accept: '*/*' },
    requestBody: null,
    startedAt: 100,
    response: {
      status: 200,
      mimeType: 'text/javascript',
      headers: { 'content-type': 'text/javascript' },
      protocol: 'h2',
      encodedDataLength: 100,
      remoteIPAddress: '127.0.0.1',
      remotePort: 9443,
      ...(timing
        ? { timing: { requestTime: 100, dnsStart: -1, dnsEnd: -1, sslStart: -1, sslEnd: -1, ...timing } }
        : {}),
    } as unknown as RecordedRequest['response'],
    endedAt: 100.5,
    encodedBytes: 1_100,
    failed: null,
    redirectedTo: null,
    fromCache: false,
    calm: false,
    ...over,
  };
}

const answer = (over: Partial<Answer> = {}): Answer => ({
  method: 'GET',
  url: URL_A,
  status: 200,
  headers: [['content-type', 'text/javascript']],
  body: Buffer.from('a()'),
  reason: null,
  leftOut: null,
  ...over,
});

/** What a connection took, ms from its request: connect 1 to 41, sent at 42, first byte at `first`. */
const waited = (first: number, over: Record<string, number> = {}) => ({
  connectStart: 1,
  connectEnd: 41,
  sendStart: 42,
  sendEnd: 42,
  receiveHeadersStart: first,
  receiveHeadersEnd: first,
  ...over,
});

describe('what the loads of a capture told', () => {
  it('is joined: bytes from the intercepted one, times from the one that streamed', () => {
    const { exchanges, bodies } = joinLoads(
      [record()],
      [record({ startedAt: 200, endedAt: 200.3 }, { ...waited(150), requestTime: 200 })],
      [answer()],
    );
    const [one] = exchanges;
    expect(Buffer.from(bodies.get(one!.bodyHash!)!).toString()).toBe('a()');
    expect(one).toMatchObject({
      status: 200,
      bodyBytes: 3,
      wireBytes: 1_000,
      protocol: 'h2',
      remote: '127.0.0.1:9443',
      outcome: { state: 'answered' },
    });
    expect(one!.timings!.waitMs).toBe(108);
    expect(Math.round(one!.timings!.receiveMs)).toBe(150);
  });

  it('takes repeated requests in their order, and the answers to another method for themselves', () => {
    const { exchanges, bodies } = joinLoads(
      [record(), record({ method: 'POST' }), record()],
      [],
      [
        answer({ body: Buffer.from('1') }),
        answer({ body: Buffer.from('2') }),
        answer({ method: 'POST', body: Buffer.from('posted') }),
      ],
    );
    const text = exchanges.map((one) => Buffer.from(bodies.get(one.bodyHash!)!).toString());
    expect(text).toEqual(['1', 'posted', '2']);
    expect(exchanges.map((one) => one.order)).toEqual([0, 1, 2]);
  });

  it('finds an answer though the address has a fragment', () => {
    const { exchanges } = joinLoads([record({ url: `${URL_A}#part` })], [], [answer()]);
    expect(exchanges[0]!.bodyHash).not.toBeNull();
  });

  it('prefers an answer to the failure that came before it', () => {
    const { exchanges } = joinLoads(
      [record()],
      [],
      [answer({ body: null, status: 0, reason: 'Failed' }), answer()],
    );
    expect(exchanges[0]).toMatchObject({ outcome: { state: 'answered' }, bodyBytes: 3 });
  });

  it('stores equal bodies once', () => {
    const other = 'https://quay.test/copy.js';
    const { bodies } = joinLoads([record(), record({ url: other })], [], [answer(), answer({ url: other })]);
    expect(bodies.size).toBe(1);
  });

  it('says of each how it ended: answered, redirected, failed with the reason', () => {
    const { exchanges } = joinLoads(
      [
        record({ redirectedTo: 'https://quay.test/b.js' }),
        record({ url: 'https://gone.test/x', response: null, failed: 'net::ERR_NAME_NOT_RESOLVED' }),
        record({ url: 'https://quay.test/odd', response: null, endedAt: null }),
      ],
      [],
      [],
    );
    expect(exchanges.map((one) => one.outcome)).toEqual([
      { state: 'redirected', to: 'https://quay.test/b.js' },
      { state: 'failed', reason: 'net::ERR_NAME_NOT_RESOLVED' },
      { state: 'failed', reason: 'no answer' },
    ]);
  });
});

describe('a server’s own time', () => {
  it('is the wait less the measured round trip of its host, which is the quickest connection', () => {
    const { exchanges } = joinLoads(
      [record(), record({ url: 'https://quay.test/b.js' })],
      [record({}, waited(142)), record({ url: 'https://quay.test/b.js' }, waited(92, { connectEnd: 71 }))],
      [],
    );
    // 40 ms is the least of 40 and 70; 142 - 42 - 40 and 92 - 42 - 40.
    expect(exchanges.map((one) => one.serverMs)).toEqual([60, 10]);
  });

  it('does not count the time of TLS as a round trip, and is never below nothing', () => {
    const { exchanges } = joinLoads([record()], [record({}, waited(60, { sslStart: 21, sslEnd: 41 }))], []);
    expect(exchanges[0]!.serverMs).toBe(0);
    expect(exchanges[0]!.timings).toMatchObject({ connectMs: 40, tlsMs: 20, dnsMs: null });
  });

  it('of a connection that stood already is measured against the round trip of its host', () => {
    const { exchanges } = joinLoads(
      [record(), record({ url: 'https://quay.test/b.js' })],
      [
        record({}, waited(142)),
        record(
          { url: 'https://quay.test/b.js' },
          {
            connectStart: -1,
            connectEnd: -1,
            sendStart: 3,
            sendEnd: 3,
            receiveHeadersStart: 93,
            receiveHeadersEnd: 93,
          },
        ),
      ],
      [],
    );
    expect(exchanges[1]!.serverMs).toBe(50);
    expect(exchanges[1]!.timings!.connectMs).toBeNull();
  });
});

describe('limits', () => {
  it('leave out a body that is too large, and say so', () => {
    const { exchanges, bodies, notes } = joinLoads(
      [record()],
      [],
      [answer({ body: Buffer.alloc(BODY_LIMIT + 1) })],
    );
    expect(notes).toEqual([`${URL_A} is over 25 MB; it is replayed as a failure.`]);
    expect(exchanges[0]!.bodyHash).toBeNull();
    expect(bodies.size).toBe(0);
  });

  it('leave out what makes the whole too large, and take smaller ones after it', () => {
    const big = Buffer.alloc(BODY_LIMIT);
    const count = CAPTURE_LIMIT / BODY_LIMIT + 1;
    const url = (index: number) => `https://quay.test/${index}.bin`;
    const { exchanges, notes } = joinLoads(
      Array.from({ length: count }, (_one, index) => record({ url: url(index) })),
      [],
      Array.from({ length: count }, (_one, index) => answer({ url: url(index), body: big })),
    );
    expect(exchanges.filter((one) => one.bodyHash !== null)).toHaveLength(CAPTURE_LIMIT / BODY_LIMIT);
    expect(notes).toEqual([
      `${url(count - 1)} would make the capture larger than 250 MB; it is replayed as a failure.`,
    ]);
  });
});
