import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, describe, expect, it } from 'vitest';
import { readHarFile } from './read-har-file.ts';

const folder = mkdtempSync(join(tmpdir(), 'wistrel-read-har-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const PAGE = 'https://quay.test/';

function entry(url: string, at: number, content: object, over: object = {}) {
  return {
    startedDateTime: new Date(Date.parse('2026-11-03T10:00:00.000Z') + at).toISOString(),
    request: { method: 'GET', url, headers: [] },
    response: { status: 200, headers: [], content, ...over },
    timings: { connect: 40, ssl: 20, wait: 50, receive: 5 },
  };
}
const page = entry(PAGE, 0, { mimeType: 'text/html', text: '<title>Quay</title>' });
const file = (entries: object[], more: object = {}) =>
  JSON.stringify({ log: { version: '1.2', creator: { name: 'x', version: '1' }, ...more, entries } });

let count = 0;
const read = (text: string | Buffer) => {
  const path = join(folder, `${count++}.har`);
  writeFileSync(path, text);
  return readHarFile(path);
};

describe('a HAR file', () => {
  it('gives a capture: the page, its files in their order of time, bodies stored once', async () => {
    const { capture, bodies, canReplay } = await read(
      file([
        entry(`${PAGE}b.js`, 300, { mimeType: 'text/javascript', text: 'same()' }),
        page,
        entry(`${PAGE}a.js`, 200, { mimeType: 'text/javascript', text: 'same()' }),
      ]),
    );
    expect(capture).toMatchObject({
      url: PAGE,
      documentUrl: PAGE,
      title: 'Quay',
      takenAt: '2026-11-03T10:00:00.000Z',
    });
    expect(capture.exchanges.map((one) => [one.order, one.url, one.startMs])).toEqual([
      [0, PAGE, 0],
      [1, `${PAGE}a.js`, 200],
      [2, `${PAGE}b.js`, 300],
    ]);
    expect(capture.exchanges.map((one) => one.serverMs)).toEqual([30, 30, 30]);
    expect(bodies.size).toBe(2);
    expect(canReplay).toBe(true);
  });

  it('may have its other parts in any order, and marks at its head that say how it is encoded', async () => {
    const entries = [page];
    const after = JSON.stringify({ log: { entries, version: '1.2', pages: [{ id: 'entries' }] } });
    expect((await read(after)).capture.exchanges).toHaveLength(1);
    expect((await read(`\uFEFF${file(entries)}`)).capture.exchanges).toHaveLength(1);
    expect(
      (await read(file(entries, { pages: [{ entries: [{ not: 'an entry' }] }] }))).capture.exchanges,
    ).toHaveLength(1);
  });

  it('knows redirects before the page, and frames after it', async () => {
    const { capture } = await read(
      file([
        entry('http://quay.test/', -80, { mimeType: 'text/html' }, { status: 301, redirectURL: PAGE }),
        page,
        entry('https://map.test/', 400, { mimeType: 'text/html', text: '<p>map' }),
      ]),
    );
    expect(capture.documentUrl).toBe(PAGE);
    expect(capture.exchanges.map((one) => [one.kind, one.outcome.state])).toEqual([
      ['document', 'redirected'],
      ['document', 'answered'],
      ['embed', 'answered'],
    ]);
  });

  it('without bodies can be mapped, not replayed', async () => {
    const { canReplay, capture, bodies } = await read(
      file([entry(PAGE, 0, { mimeType: 'text/html', size: 900 })]),
    );
    expect([canReplay, bodies.size, capture.exchanges[0]!.wireBytes]).toEqual([false, 0, 900]);
  });

  it('that is none, or is cut off, is told in a sentence that names the file', async () => {
    const whole = file([page, entry(`${PAGE}a.js`, 200, { mimeType: 'text/javascript', text: 'a()' })]);
    // Wherever it is cut, it is refused or read up to there: it never falls over.
    for (let at = 0; at < whole.length - 3; at += 7) {
      const outcome = await read(whole.slice(0, at)).then(
        (contents) => `${contents.capture.exchanges.length} read`,
        (error: Error) => error.message,
      );
      expect(outcome, `cut at ${at}`).toMatch(
        /^\d read$|\.har is no readable HAR file: .+\. Nothing stored was changed\.$|holds no page/,
      );
    }
    await expect(read('{"log": {"entries": [{"request": 1}]}}')).rejects.toThrow(
      /is no readable HAR file: An entry has no request or no response\. Nothing stored/,
    );
    await expect(read(file([entry(`${PAGE}a.png`, 0, { mimeType: 'image/png' })]))).rejects.toThrow(
      'holds no page: no entry of it is an HTML document that was answered.',
    );
    await expect(readHarFile(join(folder, 'gone.har'))).rejects.toThrow('There is no file');
  });
});
