import { EVERY_HOST } from '../engine/chromium/certificates.ts';
import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { DEFAULT_CONDITIONS_ID, findConditions } from '../core/measure/conditions.ts';
import { readOwnChecks } from '../core/checks/own-check.ts';
import { AS_VISITOR } from '../core/measure/visit.ts';
import { carryOut } from '../engine/jobs/orders.ts';
import { EVIDENCE } from '../store/rehearsals.ts';
import { smallerPicture } from '../engine/load/smaller-picture.ts';
import { CapturedPage } from '../core/page/captured-page.ts';
import { readPageAssets } from '../core/page/page-assets.ts';
import { recommendPlan } from '../core/treat/recommend.ts';
import { sceneOf } from '../core/treat/scene.ts';
import { mapMeasured } from '../core/path/map-measured.ts';
import { waitsOf } from '../core/trial/rule-steps.ts';
import { ruleGainsSentence } from '../core/words/rule-gains.ts';
import { demoCertificate, demoPorts } from './certificate.ts';
import { trialWords } from '../core/trial/verdict.ts';
import { writeSeed } from './seed-file.ts';
import { SKERRAVANE } from './site/names.ts';
import { HOME_CHECKS } from './site/pages.ts';
import { startDemoSite } from './site/server.ts';

/** npm run seed: carries the demo home page through every stage and keeps what came of it. */
const certificate = await demoCertificate(join(process.cwd(), '.data', 'demo'));
const site = await startDemoSite({ names: SKERRAVANE, certificate, ...demoPorts() });
const conditions = findConditions(DEFAULT_CONDITIONS_ID)!;
const say = (step: string) => console.log(step);
const url = site.url('/');
try {
  const measure = await carryOut(
    {
      kind: 'measure',
      pageName: 'Home',
      url,
      conditions,
      runs: 3,
      returnVisits: true,
      visit: AS_VISITOR,
      ownClock: true,
      yardstick: null,
      accepted: [{ host: EVERY_HOST, publicKeyHash: certificate.publicKeyHash }],
    },
    say,
  );
  const { state, measurement } = measure;
  const captured = { capture: measure.capture, bodies: measure.bodies, state };
  const fold = await carryOut({ kind: 'fold', pageName: 'Home', ...captured }, say);
  const lighter = await carryOut({ kind: 'lighter-images', pageName: 'Home', ...captured, others: [] }, say);
  const capture = { ...measure.capture, lighter: lighter.lighter };
  const bodies = new Map([...measure.bodies, ...lighter.bodies]);
  const { requests } = measurement.runs[measurement.medianRun]!;
  const plan = recommendPlan(sceneOf(readPageAssets(new CapturedPage(capture, bodies), requests), fold.fold));
  const replayed = { pageName: 'Home', capture, bodies, state, requests, fold: fold.fold };
  const rehearse = await carryOut(
    { kind: 'rehearse', ...replayed, plan, checks: readOwnChecks(HOME_CHECKS) },
    say,
  );
  const { rehearsal } = rehearse;
  const trial = await carryOut(
    {
      kind: 'trial',
      ...replayed,
      yardstick: measurement.yardstick,
      plan: rehearsal.plan,
      rehearsal: { ...rehearsal, exceptions: [] },
      conditions,
      pairs: 'until clear',
    },
    say,
  );
  console.log(trialWords(trial.trial.result));
  const ruleGains = await carryOut(
    {
      kind: 'rule-gains',
      ...replayed,
      yardstick: measurement.yardstick,
      plan: rehearsal.plan,
      conditions,
      waitedMs: waitsOf(mapMeasured(measure, conditions).map.assets),
      rounds: 6,
    },
    say,
  );
  console.log(ruleGainsSentence(ruleGains.gains));
  for (const viewport of fold.fold.viewports) {
    viewport.allCss = await smallerPicture(viewport.allCss);
    viewport.foldOnly = await smallerPicture(viewport.foldOnly);
    viewport.difference = await smallerPicture(viewport.difference);
  }
  for (const shown of rehearse.pictures)
    for (const of of EVIDENCE) shown[of] = await smallerPicture(shown[of]);
  for (const arm of trial.trial.arms)
    if (arm.finalPicture) arm.finalPicture = await smallerPicture(arm.finalPicture);
  if (trial.trial.pictureDifference)
    trial.trial.pictureDifference = await smallerPicture(trial.trial.pictureDifference);
  mkdirSync(join(import.meta.dirname, 'seed'), { recursive: true });
  const date = new Date().toISOString().slice(0, 10);
  writeSeed({ date, url, measure, fold, lighter, plan, rehearse, trial, ruleGains });
} finally {
  await site.close();
}
