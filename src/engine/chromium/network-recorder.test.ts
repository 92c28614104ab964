import { EventEmitter } from 'node:events';
import type { CDPSession, Protocol } from 'puppeteer-core';
import { describe, expect, it } from 'vitest';
import { MOST_REQUESTS } from '../limits.ts';
import { discoveryOf, NetworkRecorder, toTiming, wireBytesOf } from './network-recorder.ts';

/** A session that says what a test lets it say, as the DevTools protocol would. */
class ToldSession extends EventEmitter {
  readonly asked: string[] = [];
  #recorder = new NetworkRecorder();

  static async opened(isPage = true): Promise<ToldSession> {
    const session = new ToldSession();
    await session.#recorder.attach(session as unknown as CDPSession, isPage);
    return session;
  }

  get recorder(): NetworkRecorder {
    return this.#recorder;
  }

  send(method: string): Promise<void> {
    this.asked.push(method);
    return Promise.resolve();
  }

  asks(requestId: string, url: string, over: Partial<Protocol.Network.RequestWillBeSentEvent> = {}): void {
    this.emit('Network.requestWillBeSent', {
      requestId,
      frameId: 'main',
      type: 'Script',
      timestamp: 10,
      initiator: { type: 'other' },
      request: { url, method: 'GET', headers: { accept: '*/*' }, initialPriority: 'High' },
      ...over,
    });
  }

  gets(requestId: string, over: Partial<Protocol.Network.Response> = {}): void {
    this.emit('Network.responseReceived', {
      requestId,
      response: { status: 200, headers: {}, encodedDataLength: 120, ...over },
    });
  }

  ends(requestId: string, encodedDataLength: number, timestamp = 11): void {
    this.emit('Network.loadingFinished', { requestId, encodedDataLength, timestamp });
  }
}

const noSheet = () => false;

describe('what is asked for', () => {
  it('is recorded up to a number for each document, and it is said where a document asked for more', async () => {
    const session = await ToldSession.opened();
    const asksFor = (count: number, from: string) => {
      session.asks(`${from} page`, `https://quay.test/${from}`, { type: 'Document' });
      for (let one = 1; one < count; one++)
        session.asks(`${from} ${one}`, `https://quay.test/${from}/${one}`);
    };
    // A page that is used again for other loads, as rehearsing does, begins anew each time.
    for (const load of ['a', 'b', 'c']) asksFor(MOST_REQUESTS, load);
    expect(session.recorder.records).toHaveLength(3 * MOST_REQUESTS);
    expect(session.recorder.isFull).toBe(false);
    asksFor(MOST_REQUESTS + 2, 'd');
    expect(session.recorder.records).toHaveLength(4 * MOST_REQUESTS);
    expect(session.recorder.isFull).toBe(true);
  });

  it('is recorded with its kind; a document in a frame is an embed', async () => {
    const session = await ToldSession.opened();
    session.asks('1', 'https://quay.test/', { type: 'Document' });
    session.asks('2', 'https://map.test/', { type: 'Document', frameId: 'child' });
    for (const [index, type] of [
      'Stylesheet',
      'Font',
      'Image',
      'Fetch',
      'XHR',
      'Ping',
      'Preflight',
      'Manifest',
    ].entries())
      session.asks(`t${index}`, `https://quay.test/${type}`, { type: type as Protocol.Network.ResourceType });
    expect(session.recorder.records.map((record) => record.kind)).toEqual([
      'document',
      'embed',
      'stylesheet',
      'font',
      'image',
      'data',
      'data',
      'beacon',
      'preflight',
      'other',
    ]);
  });

  it('goes around service workers, which would answer from what a replay does not have', async () => {
    const session = await ToldSession.opened();
    expect(session.asked).toContain('Network.setBypassServiceWorker');
  });

  it('keeps every turn of a redirect, each with its own answer', async () => {
    const session = await ToldSession.opened();
    session.asks('1', 'https://quay.test/old', { type: 'Document' });
    session.asks('1', 'https://quay.test/new', {
      type: 'Document',
      timestamp: 10.4,
      redirectResponse: { status: 301, headers: {}, encodedDataLength: 90 } as Protocol.Network.Response,
    });
    session.gets('1');
    session.ends('1', 2_120);
    const [first, second] = session.recorder.records;
    expect(first).toMatchObject({
      redirectedTo: 'https://quay.test/new',
      endedAt: 10.4,
      response: { status: 301 },
    });
    expect(second).toMatchObject({
      url: 'https://quay.test/new',
      redirectedTo: null,
      response: { status: 200 },
    });
    expect(first!.id).not.toBe(second!.id);
    expect(wireBytesOf(second!)).toBe(2_000);
  });

  it('is not recorded twice when the frame of another site tells of it too', async () => {
    const session = await ToldSession.opened();
    session.asks('1', 'https://map.test/', { type: 'Document', frameId: 'child' });
    session.asks('1', 'https://map.test/', { type: 'Document', frameId: 'child' });
    expect(session.recorder.records).toHaveLength(1);
  });

  it('stands apart when it was in the page itself', async () => {
    const session = await ToldSession.opened();
    session.asks('1', 'data:image/gif;base64,AA==', { type: 'Image' });
    session.asks('2', 'blob:https://quay.test/1');
    expect(session.recorder.records).toEqual([]);
    expect(session.recorder.dataUrls).toHaveLength(1);
    expect(session.recorder.inFlight).toBe(0);
  });

  it('is on its way until it ends or fails, and only then is the network quiet', async () => {
    const session = await ToldSession.opened();
    session.asks('1', 'https://quay.test/a.js');
    session.asks('2', 'https://quay.test/b.js');
    expect([session.recorder.inFlight, session.recorder.quietMs()]).toEqual([2, 0]);
    session.ends('1', 100);
    session.emit('Network.loadingFailed', { requestId: '2', timestamp: 12, errorText: 'net::ERR_ABORTED' });
    expect(session.recorder.inFlight).toBe(0);
    expect(session.recorder.records[1]).toMatchObject({ failed: 'net::ERR_ABORTED', endedAt: 12 });
  });

  it('keeps the priorities it was given later, and the reason why it was blocked', async () => {
    const session = await ToldSession.opened();
    session.asks('1', 'https://quay.test/a.jpg', { renderBlockingBehavior: 'Blocking' });
    session.emit('Network.resourceChangedPriority', { requestId: '1', newPriority: 'VeryHigh' });
    session.emit('Network.loadingFailed', {
      requestId: '1',
      timestamp: 12,
      errorText: 'net::ERR_BLOCKED_BY_CLIENT',
      blockedReason: 'csp',
    });
    expect(session.recorder.records[0]).toMatchObject({
      blocking: 'blocking',
      priority: 'High',
      laterPriorities: ['VeryHigh'],
      failed: 'csp',
    });
  });
});

describe('bytes on the wire', () => {
  const received = async (encoded: number, over: Partial<Protocol.Network.Response> = {}) => {
    const session = await ToldSession.opened();
    session.asks('1', 'https://quay.test/a.js');
    session.gets('1', over);
    session.ends('1', encoded);
    return { session, bytes: () => wireBytesOf(session.recorder.records[0]!) };
  };

  it('are those of the body: what came less the headers', async () => {
    expect((await received(5_120)).bytes()).toBe(5_000);
  });

  it('are none for what came from the cache', async () => {
    const { session, bytes } = await received(5_120);
    session.emit('Network.requestServedFromCache', { requestId: '1' });
    expect(bytes()).toBe(0);
    expect((await received(5_120, { fromDiskCache: true })).bytes()).toBe(0);
  });

  it('are what the answer says of itself where the protocol gives no size', async () => {
    expect((await received(0, { headers: { 'Content-Length': '731' } })).bytes()).toBe(731);
    expect((await received(0, { headers: { 'content-length': 'many' } })).bytes()).toBe(0);
  });
});

describe('how an asset was found', () => {
  const found = async (
    initiator: Protocol.Network.Initiator,
    over: Partial<Protocol.Network.RequestWillBeSentEvent> = {},
    isSheet = noSheet as (url: string) => boolean,
  ) => {
    const session = await ToldSession.opened();
    session.asks('1', 'https://quay.test/x', { initiator, ...over });
    return discoveryOf(session.recorder.records[0]!, isSheet);
  };
  const frame = (url: string, lineNumber: number) => ({
    functionName: '',
    scriptId: '1',
    url,
    lineNumber,
    columnNumber: 4,
  });

  it('is told with lines from 1: in the HTML, or in a sheet', async () => {
    const initiator = {
      type: 'parser' as const,
      url: 'https://quay.test/y',
      lineNumber: 11,
      columnNumber: 0,
    };
    expect(await found(initiator)).toEqual({
      by: 'parser',
      document: 'https://quay.test/y',
      line: 12,
      column: 1,
    });
    expect(await found(initiator, {}, () => true)).toMatchObject({ by: 'stylesheet', line: 12 });
    expect(await found({ type: 'parser', url: 'https://quay.test/y' })).toMatchObject({ line: null });
  });

  it('goes up the stack to the first script with an address, across what was put off', async () => {
    const stack = {
      callFrames: [],
      parent: { callFrames: [frame('', 1), frame('https://quay.test/lib.js', 30)] },
    };
    expect(await found({ type: 'script', stack })).toEqual({
      by: 'script',
      url: 'https://quay.test/lib.js',
      line: 31,
      column: 5,
    });
    expect(await found({ type: 'script', stack: { callFrames: [frame('', 1)] } })).toEqual({ by: 'other' });
  });

  it('is the navigation for the page itself, and a preload where one asked', async () => {
    expect(await found({ type: 'other' }, { type: 'Document' })).toEqual({ by: 'navigation' });
    expect(await found({ type: 'preload' })).toEqual({ by: 'preload' });
  });
});

it('puts a request on the clock of its run', async () => {
  const session = await ToldSession.opened();
  session.asks('1', 'https://quay.test/a.js', { timestamp: 10.25 });
  session.gets('1', {
    timing: {
      requestTime: 10.3,
      dnsStart: -1,
      dnsEnd: -1,
      connectStart: 2,
      connectEnd: 60,
      sendStart: 61,
      sendEnd: 61.5,
      receiveHeadersStart: 161,
      receiveHeadersEnd: 162,
    } as Protocol.Network.ResourceTiming,
  });
  session.ends('1', 1_120, 10.6);
  const timing = toTiming(session.recorder.records[0]!, 10, noSheet);
  expect(timing).toMatchObject({ status: 200, wireBytes: 1_000, failed: null });
  const rounded = Object.fromEntries(
    (['startMs', 'sentMs', 'firstByteMs', 'endMs'] as const).map((key) => [key, Math.round(timing[key]!)]),
  );
  expect(rounded).toEqual({ startMs: 250, sentMs: 361, firstByteMs: 461, endMs: 600 });
  expect([timing.connectMs!.start, timing.connectMs!.end].map(Math.round)).toEqual([302, 360]);
});
