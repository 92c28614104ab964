import { createWriteStream, mkdtempSync, rmSync } from 'node:fs';
import { once } from 'node:events';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { BUILT_IN_CONDITIONS } from '../../src/core/measure/conditions.ts';
import { capturePage, type CaptureResult } from '../../src/engine/capture/capture-page.ts';
import { readHarFile } from '../../src/engine/har/read-har-file.ts';
import { mapPage } from '../../src/engine/map-page.ts';
import { measureCapture } from '../../src/engine/measure-page.ts';
import { pageAssetsOf } from '../../src/engine/treat-page.ts';
import { ONE_RUN, visitorCapture } from '../engine/defaults.ts';
import { serveFolder } from '../engine/odd-servers.ts';

describe('a general website template under all built-in conditions', () => {
  let taken: CaptureResult;
  beforeAll(async () => {
    const template = await serveFolder(join('node_modules', 'startbootstrap-creative', 'dist'));
    taken = await capturePage(visitorCapture(template.url));
    await template.close();
  });

  it('was captured with its observations', () => {
    const { observations, exchanges } = taken.capture;
    const framework = observations.ruleUsage.find((one) => one.rules > 500)!;
    expect(framework.usedRules).toBeGreaterThan(10);
    expect(framework.usedRules).toBeLessThan(framework.rules / 2);
    expect(observations.scriptUsage.some((one) => one.usedBytes > 0 && one.usedBytes < one.bytes)).toBe(true);
    expect(observations.boxes.some((box) => box.tag === 'h1')).toBe(true);
    expect(observations.backgrounds?.map((one) => one.element)).toContain('header.masthead');
    expect(observations.fonts.some((font) => font.aboveFold && font.glyphs > 0)).toBe(true);
    expect(exchanges.every((one) => one.timings !== null || one.outcome.state === 'failed')).toBe(true);
  });

  it.each(BUILT_IN_CONDITIONS.map((conditions) => [conditions.id, conditions] as const))(
    'is replayed and mapped under %s: the bill adds up, first visit and return visit',
    async (_id, conditions) => {
      const measurement = await measureCapture({
        ...taken,
        conditions,
        ...ONE_RUN,
        returnVisits: true,
      });
      for (const run of [measurement.runs[0]!, measurement.returning!.runs[0]!]) {
        const { map } = mapPage({
          capture: taken.capture,
          bodies: taken.bodies,
          assets: pageAssetsOf(taken.capture, taken.bodies, run.requests),
          run,
          conditions,
          fold: null,
          earliestMs: null,
        });
        const paint = run.metrics.firstPaintMs!;
        const sum = map.paintBill.reduce((total, one) => total + one.endMs - one.startMs, 0);
        expect(Math.abs(sum - paint)).toBeLessThan(1);
        expect(run.metrics.speedIndexMs ?? Infinity).toBeGreaterThanOrEqual(paint - 17);
      }
      const [first, again] = [measurement.runs[0]!, measurement.returning!.runs[0]!];
      expect(again.requests.length).toBeGreaterThan(0);
      expect(first.metrics.timeToFirstByteMs!).toBeGreaterThan(conditions.roundTripMs * 1.5);
    },
  );
});

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
