import { describe, expect, it } from 'vitest';
import { exchangeOf } from '../../../tests/engine/defaults.ts';
import { Archive, type Override } from './archive.ts';

const PAGE = 'https://quay.test/';
const exchanges = [
  exchangeOf({ url: `${PAGE}a.css`, kind: 'stylesheet', serverMs: 40, bodyHash: 'a', bodyBytes: 3 }),
  exchangeOf({ url: `${PAGE}b.js`, kind: 'script', serverMs: 60, bodyHash: 'b', bodyBytes: 3 }),
  exchangeOf({ url: `${PAGE}tide?day=1&pier=2`, serverMs: 90, bodyHash: 'c', bodyBytes: 3 }),
  exchangeOf({ url: `${PAGE}tide?day=2&pier=2`, serverMs: 95, bodyHash: 'd', bodyBytes: 3 }),
];
const bodies = new Map(['a', 'b', 'c', 'd'].map((hash) => [hash, new TextEncoder().encode(hash)]));
const archive = (...overrides: Override[]) => new Archive(exchanges, bodies, overrides, null);
const empty = (name: string, over: Partial<Override> = {}): Override => ({
  url: PAGE + name,
  mimeType: 'text/css',
  body: new Uint8Array(),
  isNew: false,
  ...over,
});

/** How a request was answered, with which body and after how long. */
function answered(from: Archive, name: string, method = 'GET') {
  const match = from.match(method, PAGE + name);
  if (match.how === 'missing') return ['missing'];
  return [match.how, Buffer.from(match.answer.body ?? []).toString(), match.answer.serverMs];
}

describe('the archive', () => {
  it('answers the exact address, else the one with most parameters in common, else nothing', () => {
    expect(answered(archive(), 'a.css')).toEqual(['exact', 'a', 40]);
    expect(answered(archive(), 'tide?day=2&pier=7')).toEqual(['loose', 'd', 95]);
    expect(answered(archive(), 'gone.css')).toEqual(['missing']);
    expect(answered(archive(), 'a.css', 'POST')).toEqual(['missing']);
  });

  it('gives a poll whose query is the time its answers in their order', () => {
    const start = Date.parse('2026-11-03T10:00:00Z');
    const poll = (at: number, hash: string) =>
      exchangeOf({ url: `${PAGE}poll?at=${start + at}`, serverMs: 1, bodyHash: hash, bodyBytes: 3 });
    const polls = [poll(1_000, 'a'), poll(3_000, 'b'), poll(5_000, 'c')];
    const from = new Archive(polls, bodies, [], { seed: 1, startMs: start });
    const asked = [1_007, 3_011, 5_002, 7_000].map((at) => answered(from, `poll?at=${start + at}`)[1]);
    expect(asked).toEqual(['a', 'b', 'c', 'c']);
    from.rewind();
    // The very address is answered by its own exchange, and what comes after by those after it.
    expect(answered(from, `poll?at=${start + 3_000}`)[1]).toBe('b');
    expect(answered(from, `poll?at=${start + 5_009}`)[1]).toBe('c');
  });

  it('lets a page come to itself by the captured way, whatever stands for what it shows', () => {
    const hop = exchangeOf({
      url: PAGE,
      status: 302,
      outcome: { state: 'redirected', to: PAGE },
      responseHeaders: [
        ['location', PAGE],
        ['set-cookie', 'seen=1'],
      ],
    });
    const shown = exchangeOf({ url: PAGE, bodyHash: 'a', bodyBytes: 1 });
    const stay = exchangeOf({ url: PAGE, status: 204 });
    const treated = empty('', { body: new TextEncoder().encode('treated'), mimeType: 'text/html' });
    const from = new Archive([hop, shown, stay], bodies, [treated], null);
    const statuses = [1, 2, 3].map(() => {
      const match = from.match('GET', PAGE);
      return match.how === 'missing'
        ? null
        : [match.answer.status, Buffer.from(match.answer.body ?? '').toString()];
    });
    expect(statuses).toEqual([
      [302, ''],
      [200, 'treated'],
      [204, ''],
    ]);
  });

  it('gives what stands for a file that file’s server time, unless another is stated', () => {
    expect(answered(archive(empty('a.css')), 'a.css')).toEqual(['exact', '', 40]);
    expect(answered(archive(empty('a.css', { serverMs: 0 })), 'a.css')).toEqual(['exact', '', 0]);
  });

  it('gives a new file the server time of its host’s scripts and sheets', () => {
    expect(answered(archive(empty('new.css', { isNew: true })), 'new.css')).toEqual(['exact', '', 60]);
    expect(answered(archive(empty('new.css', { isNew: true, serverMs: 5 })), 'new.css')).toEqual([
      'exact',
      '',
      5,
    ]);
  });

  it('keeps a new file in caches as long as its like, and serves what is no text as it is', () => {
    const kept = (kind: 'stylesheet' | 'script', name: string, seconds: number) =>
      exchangeOf({
        url: PAGE + name,
        kind,
        bodyHash: 'a',
        bodyBytes: 1,
        wireBytes: 1,
        responseHeaders: [
          ['cache-control', `max-age=${seconds}`],
          ['content-encoding', 'gzip'],
          ['etag', '"a"'],
        ],
      });
    const answerOf = (held: typeof exchanges, over: Partial<Override>) => {
      const match = new Archive(held, bodies, [empty('new', { isNew: true, ...over })], null).match(
        'GET',
        `${PAGE}new`,
      );
      if (match.how === 'missing') throw new Error('no answer');
      return match.answer;
    };
    const both = [kept('script', 'b.js', 60), kept('stylesheet', 'a.css', 900)];
    expect(answerOf(both, {}).headers).toEqual([
      ['content-type', 'text/css; charset=utf-8'],
      ['cache-control', 'max-age=900'],
    ]);
    expect(answerOf(both, { mimeType: 'text/javascript' }).headers[1]).toEqual([
      'cache-control',
      'max-age=60',
    ]);
    // A host that says nothing of caches says nothing of it either.
    expect(answerOf(exchanges, {}).headers).toHaveLength(1);
    const font = answerOf(both, { mimeType: 'font/woff2', body: Uint8Array.of(1, 2, 3) });
    expect([font.headers[0], font.encodeNear]).toEqual([['content-type', 'font/woff2'], null]);
    expect(answerOf(both, {}).encodeNear).toMatchObject({ encoding: 'gzip' });
  });

  it('answers as another page’s capture had it, whose body only the override holds', () => {
    const elsewhere = exchangeOf({
      url: `${PAGE}times`,
      serverMs: 70,
      bodyHash: 'held elsewhere',
      bodyBytes: 5,
      wireBytes: 5,
      responseHeaders: [['cache-control', 'max-age=900']],
    });
    const body = new TextEncoder().encode('times');
    const match = archive(empty('times', { isNew: true, body, elsewhere })).match('GET', `${PAGE}times`);
    expect(match).toMatchObject({
      how: 'exact',
      answer: { status: 200, serverMs: 70, failed: false, headers: [['cache-control', 'max-age=900']] },
    });
  });
});
