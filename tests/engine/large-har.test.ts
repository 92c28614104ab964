import { createWriteStream, mkdtempSync, rmSync } from 'node:fs';
import { once } from 'node:events';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, describe, expect, it } from 'vitest';
import { readHarFile } from '../../src/engine/har/read-har-file.ts';

describe('a HAR file of 100 MB', () => {
  const folder = mkdtempSync(join(tmpdir(), 'wistrel-har-'));
  afterAll(() => rmSync(folder, { recursive: true, force: true }));

  it('is read entry by entry: never held whole, and never long at a time', { timeout: 180_000 }, async () => {
    const file = join(folder, 'large.har');
    const body = Buffer.alloc(1_500_000, 'wave ').toString('base64');
    const out = createWriteStream(file);
    out.write('{"log":{"version":"1.2","entries":[');
    for (let index = 0; index < 50; index++) {
      const entry = {
        startedDateTime: new Date(1_790_000_000_000 + index).toISOString(),
        request: { method: 'GET', url: `https://quay.test/${index || ''}`, headers: [] },
        response: {
          status: 200,
          headers: [],
          content: {
            mimeType: index ? 'image/jpeg' : 'text/html',
            encoding: 'base64',
            text: body.slice(0, -4) + Buffer.from(String(index).padStart(3, '0')).toString('base64'),
          },
        },
        timings: { wait: 5 },
      };
      if (!out.write(`${index ? ',' : ''}${JSON.stringify(entry)}`)) await once(out, 'drain');
    }
    out.end(']}}');
    await once(out, 'close');

    let longest = 0;
    let last = performance.now();
    const watch = setInterval(() => {
      longest = Math.max(longest, performance.now() - last);
      last = performance.now();
    }, 20);
    const shares: number[] = [];
    const { capture, bodies, canReplay } = await readHarFile(file, (share) => shares.push(share));
    clearInterval(watch);
    expect(capture.exchanges).toHaveLength(50);
    expect(bodies.size).toBe(50);
    expect(canReplay).toBe(true);
    expect(shares.length).toBeGreaterThan(100);
    // It goes on listening between entries: whoever asks it to stop is heard.
    expect(longest).toBeLessThan(2_500);
  });
});
