import { randomBytes } from 'node:crypto';
import { expect, it } from 'vitest';
import { findConditions } from '../../src/core/measure/conditions.ts';
import { askingAhead } from '../../src/core/next/ahead.ts';
import { nextPages } from '../../src/core/next/next-assets.ts';
import type { CapturedPage } from '../../src/core/page/captured-page.ts';
import { readPageAssets } from '../../src/core/page/page-assets.ts';
import { applyPlan } from '../../src/core/treat/apply.ts';
import { recommendPlan } from '../../src/core/treat/recommend.ts';
import { sceneOf } from '../../src/core/treat/scene.ts';
import { LOAD_LIMITS } from '../../src/engine/chromium/visit.ts';
import { runNavigation } from '../../src/engine/trial/run-navigation.ts';
import { madePage } from '../engine/made-capture.ts';

const bodiesOf = (page: CapturedPage) =>
  new Map(page.capture.exchanges.map((one) => [one.bodyHash!, page.body(one.url)!] as const));

/** Goes from a page with one link on it to the timetable, asking for what is recommended ahead. */
function goOn(link: string, pairs: number) {
  const home = madePage(`<!DOCTYPE html><title>Home</title><body><h1>Quay</h1>${link}</body>`);
  const next = madePage(
    '<!DOCTYPE html><title>Times</title><script src="/board.js"></script><p>The tide turns at noon</p>',
    {
      '/board.js': {
        // It takes long to run, and has to be waited for as it is authored.
        body: `var board = "${randomBytes(110_000).toString('base64')}", end = performance.now() + 250; while (performance.now() < end);`,
        type: 'text/javascript',
        kind: 'script',
        headers: [['cache-control', 'max-age=3600']],
      },
    },
    { url: 'https://quay.test/times' },
  );
  const ahead = nextPages(home, [{ name: 'Times', page: next, signedIn: false }]);
  const scene = sceneOf(readPageAssets(home, []), null, ahead.assets);
  const plan = recommendPlan(scene);
  const nextScene = sceneOf(readPageAssets(next, []), null);
  return runNavigation({
    capture: home.capture,
    bodies: bodiesOf(home),
    state: null,
    yardstick: null,
    conditions: findConditions('slow-phone')!,
    without: applyPlan(scene, plan),
    ahead: applyPlan(scene, askingAhead(plan)),
    next: {
      name: 'Times',
      capture: next.capture,
      bodies: bodiesOf(next),
      treated: applyPlan(nextScene, recommendPlan(nextScene)),
      plan: { state: 'tried' },
    },
    pairs,
    limits: { ...LOAD_LIMITS, loadMs: 12_000 },
  });
}

it(
  'shows the next page earlier where what it needs is there already, and where it is treated itself',
  { retry: 1 },
  async () => {
    const { pairs, paint, ownPaint, withoutMs, aheadMs, both } = await goOn('<a href="/times">Times</a>', 6);
    expect(paint.verdict).toBe('earlier');
    expect(aheadMs!).toBeLessThan(withoutMs! / 2);
    expect(ownPaint.verdict).not.toBe('later');
    expect(both!.paint.verdict).toBe('earlier');
    expect(both!.paintMs!).toBeLessThan(aheadMs! - 150);
    // The page before is painted at once, all of it: what comes after the press is not its own.
    for (const { without } of pairs) expect(without.ownLargestMs! - without.ownPaintMs!).toBeLessThan(400);
  },
);

it('says so where a script answers the press by itself', async () => {
  await expect(goOn('<a href="/times" onclick="return false">Times</a>', 1)).rejects.toThrow(
    'The link to Times was pressed, and its page did not come: a script may answer the press by itself.',
  );
});
