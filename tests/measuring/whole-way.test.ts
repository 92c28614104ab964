import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { findConditions } from '../../src/core/measure/conditions.ts';
import { AS_VISITOR } from '../../src/core/measure/visit.ts';
import { carryOut } from '../../src/engine/jobs/orders.ts';
import { EVERY_HOST, makeCertificate } from '../../src/engine/chromium/certificates.ts';
import { CapturedPage } from '../../src/core/page/captured-page.ts';
import { readPageAssets } from '../../src/core/page/page-assets.ts';
import { applyPlan } from '../../src/core/treat/apply.ts';
import { recommendPlan } from '../../src/core/treat/recommend.ts';
import { faultsOf } from '../../src/core/rehearse/rehearsal.ts';
import { sceneOf } from '../../src/core/treat/scene.ts';
import { randomNames } from '../../src/demo/site/names.ts';
import { hostNames, startDemoSite } from '../../src/demo/site/server.ts';
import { serveFolder } from '../engine/odd-servers.ts';

process.env['WISTREL_MEASURING_LOCK'] = join(mkdtempSync(join(tmpdir(), 'wistrel-test-')), 'lock');
const quiet = () => undefined;
const CONDITIONS = findConditions('home-laptop')!;

/** Carries a page through measure, fold CSS and plan by the engine alone. */
async function wayToAPlan(
  url: string,
  accepted: { host: string; publicKeyHash: string }[],
  stop: () => Promise<void>,
) {
  const { capture, bodies, state, measurement } = await carryOut(
    {
      kind: 'measure',
      pageName: 'Page',
      url,
      conditions: CONDITIONS,
      runs: 1,
      returnVisits: false,
      accepted,
      visit: AS_VISITOR,
      ownClock: true,
      yardstick: null,
    },
    quiet,
  );
  // From here on there is no live site.
  await stop();
  const { fold } = await carryOut({ kind: 'fold', pageName: 'Page', capture, bodies, state }, quiet);
  const { requests } = measurement.runs[0]!;
  const scene = sceneOf(readPageAssets(new CapturedPage(capture, bodies), requests), fold);
  const plan = recommendPlan(scene);
  return { measured: { capture, bodies, state, measurement }, scene, requests, fold, plan };
}

/** @param missing sheets that no test can load: of hosts outside */
function expectProvedFold(fold: Awaited<ReturnType<typeof wayToAPlan>>['fold'], missing: RegExp | null) {
  expect(fold.remarks.filter((remark) => !missing?.test(remark))).toEqual([]);
  expect(fold.proved).toBe(true);
  expect(fold.viewports.filter((one) => !one.between).map((one) => [one.width, one.height])).toEqual([
    [390, 844],
    [820, 1180],
    [1440, 900],
  ]);
  expect(fold.viewports).toHaveLength(6);
  for (const viewport of fold.viewports) expect(viewport.differingPixelShare).toBeLessThanOrEqual(0.0005);
  expect(fold.foldCompressedBytes / fold.sourceCompressedBytes).toBeLessThanOrEqual(0.12);
}

describe('the whole way, by the engine', { timeout: 600_000 }, () => {
  it('on the demo with every name randomised', async () => {
    const seed = Math.floor(Math.random() * 2 ** 31);
    console.log(`randomised demo: seed ${seed}`);
    const names = randomNames(seed);
    const certificate = await makeCertificate(hostNames(names));
    const site = await startDemoSite({ names, certificate, httpsPort: 0, httpPort: 0 });
    const { fold, scene, plan } = await wayToAPlan(
      site.url('/'),
      [{ host: EVERY_HOST, publicKeyHash: certificate.publicKeyHash }],
      () => site.close(),
    );
    expectProvedFold(fold, null);
    // That it is earlier, and how much, is tried with the demo as it is: through the interface.
    expect(applyPlan(scene, plan).notApplied).toEqual([]);
    const treatmentOf = (part: string) =>
      plan.rules.find((rule) => JSON.stringify(rule.match).includes(part))?.treatment;
    expect(treatmentOf(names.hosts.chat)).toBe('delay');
    expect(treatmentOf(`${names.hosts.consent}:`)).toBe('defer');
    expect(plan.rules.find((rule) => rule.together)).toMatchObject({
      treatment: 'early',
      match: { url: expect.stringContaining(names.hosts.tester) },
    });
    expect(treatmentOf(`/${names.files.library}.js`)).toBe('defer');
    expect(plan.rules.filter((rule) => rule.treatment === 'after-libraries')).toHaveLength(2);
  });

  it('on a general website template of somebody else’s making', async () => {
    const template = await serveFolder(
      join(process.cwd(), 'node_modules', 'startbootstrap-clean-blog', 'dist'),
    );
    const { measured, requests, fold, scene, plan } = await wayToAPlan(template.url, [], () =>
      template.close(),
    );
    expectProvedFold(fold, /^https:\/\/\S+ is not in the capture: its link stays/);
    expect(applyPlan(scene, plan).notApplied).toEqual([]);
    expect(plan.rules.map((rule) => rule.treatment)).toEqual(
      expect.arrayContaining(['fold-css-late', 'defer', 'early']),
    );
    // That it is earlier, and how much, is for the bench (treated): what has to hold anywhere is that nothing breaks.
    const { capture, bodies, state } = measured;
    const page = { pageName: 'Page', capture, bodies, state, requests, fold, plan };
    const { rehearsal } = await carryOut({ kind: 'rehearse', ...page, checks: [] }, quiet);
    expect(faultsOf(rehearsal)).toEqual([]);
    expect(rehearsal.plan.rules).toEqual(plan.rules);
  });
});
