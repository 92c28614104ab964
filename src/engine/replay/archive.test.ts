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
});
