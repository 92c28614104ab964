import { LRUCache } from 'lru-cache';
import { applyPlan, type TreatedPage } from '../core/treat/apply.ts';
import { CapturedPage } from '../core/page/captured-page.ts';
import { readPageAssets, type PageAssets } from '../core/page/page-assets.ts';
import type { Capture } from '../core/measure/exchange.ts';
import type { VisitState } from '../core/measure/visit.ts';
import type { Rehearsal } from '../core/rehearse/rehearsal.ts';
import { withPageDecisions } from '../core/treat/decisions.ts';
import { withRulesOf, type Plan, type PlanRule } from '../core/treat/plan.ts';
import type { RequestTiming } from '../core/measure/run.ts';
import type { NextAsset } from '../core/next/next-assets.ts';
import { recommendPlan } from '../core/treat/recommend.ts';
import { sceneOf } from '../core/treat/scene.ts';
import type { Scene } from '../core/treat/treatment.ts';
import { withDecisions, type DecisionOutcome, type WideDecision } from '../core/treat/wide-decisions.ts';
import { bodiesOf, findCapture } from '../store/captures.ts';
import type { Queries } from '../store/database.ts';
import { decisionsFor } from '../store/decisions.ts';
import {
  framesOf,
  measurementsOf,
  runsOf,
  type FrameInfo,
  type StoredMeasurement,
  type StoredRun,
} from '../store/measurements.ts';
import { lighterMark } from '../store/lighter-files.ts';
import { ownChecksOf } from '../store/own-checks.ts';
import { latestFold, pageDecisionsOf, type StoredFold } from '../store/proofs.ts';
import { findRehearsal } from '../store/rehearsals.ts';
import { stateOf } from '../store/states.ts';
import { withLighter } from './lighter-files.ts';
import { nextAssetsOf } from './next-pages.ts';
import { contentHash, rehearsalKey } from './rehearsal.ts';
import { factsKept, factsOfPage } from './script-facts.ts';

/** A page with its newest measurement under conditions: what map, treat, prove and hand off start from. */
export interface MeasuredPage {
  measurement: StoredMeasurement;
  runs: StoredRun[];
  medianRun: StoredRun & { id: number };
  frames: FrameInfo[];
  captureId: number;
  capture: Capture;
  bodies: Map<string, Uint8Array>;
  requests: RequestTiming[];
  /** Read when it is first asked for: it takes a second. */
  readonly assets: PageAssets;
  state: VisitState | null;
  /** Of the bytes captured: by it a rehearsal is found again. */
  contentHash: string;
}

/** Reads a page's newest measurement; null when it was not measured under these conditions. */
export async function measuredPage(
  queries: Queries,
  pageId: number,
  conditionsId: string,
): Promise<MeasuredPage | null> {
  const [measurement] = await measurementsOf(queries, pageId, conditionsId, 1);
  return measurement ? readMeasured(queries, measurement) : null;
}

/** A page's stages ask for the same measurement again and again, and reading its scripts takes a second. */
const MOST_KEPT = 4;

/** Of each database, the measurements read last: what is stored of one never changes, but that its images are made lighter. */
const readLast = new WeakMap<object, LRUCache<string, Promise<MeasuredPage | null>>>();

/** Reads what a measurement was made of; null when something of it is gone. */
export async function readMeasured(
  queries: Queries,
  measurement: StoredMeasurement,
): Promise<MeasuredPage | null> {
  let kept = readLast.get(queries);
  if (!kept) readLast.set(queries, (kept = new LRUCache({ max: MOST_KEPT })));
  const key = `${measurement.id} ${await lighterMark(queries, measurement.pageId)}`;
  const known = kept.get(key);
  if (known) return known;
  const read = readAnew(queries, measurement);
  kept.set(key, read);
  read.catch(() => kept.delete(key));
  return read;
}

async function readAnew(queries: Queries, measurement: StoredMeasurement): Promise<MeasuredPage | null> {
  const [stored, runs, held, state, facts] = await Promise.all([
    findCapture(queries, measurement.captureId),
    runsOf(queries, measurement.id),
    bodiesOf(queries, measurement.captureId),
    stateOf(queries, measurement.captureId),
    factsKept(queries, measurement.captureId),
  ]);
  const medianRun = runs[measurement.medianRun];
  if (!stored || !medianRun) return null;
  const { capture, bodies } = await withLighter(queries, measurement.pageId, stored.id, stored.capture, held);
  let assets: PageAssets | null = null;
  return {
    measurement,
    runs,
    medianRun,
    frames: await framesOf(queries, medianRun.id),
    captureId: stored.id,
    capture,
    bodies,
    requests: medianRun.requests,
    get assets() {
      if (assets) return assets;
      const captured = new CapturedPage(capture, bodies);
      return (assets = readPageAssets(captured.knowing(factsOfPage(captured, facts)), medianRun.requests));
    },
    state,
    contentHash: contentHash({ capture, state }),
  };
}

/** The plan of a page, and what is known of it. */
export interface PlanNow {
  plan: Plan;
  /** The user decided something for the page: it is not the recommended one. */
  own: boolean;
  /** What was decided for this page alone. */
  decided: readonly PlanRule[];
  fold: StoredFold | null;
  /** What the pages that it links to need. */
  next: readonly NextAsset[];
  /** What is recommended and decided for more pages than this, as rehearsed where it was: `plan` itself where that is it. */
  recommended: Plan;
  /** What was decided for the page's family and site, and what came of it here. */
  wide: { decisions: WideDecision[]; outcomes: DecisionOutcome[] };
  /** What is rehearsed: the plan before anything is excepted from it. */
  start: Plan;
  /** What rehearsing `start` has shown; null until then. */
  rehearsal: Rehearsal | null;
  /** By what that is kept. */
  rehearsalKey: string;
}

/** What is recommended for a page, as rehearsed once it is, with what the user decided for it. */
export async function planFor(queries: Queries, pageId: number, page: MeasuredPage): Promise<PlanNow> {
  const fold = await latestFold(queries, pageId);
  const own = await pageDecisionsOf(queries, pageId);
  const checks = await ownChecksOf(queries, pageId);
  const keyOf = (plan: Plan) => rehearsalKey(page.contentHash, plan, fold, checks);
  const rehearsalOf = (plan: Plan) => findRehearsal(queries, pageId, keyOf(plan));
  const decisions = await decisionsFor(queries, pageId);
  const next = await nextAssetsOf(queries, pageId, page);
  const { plan: first, outcomes } = recommendedFor(page, fold, next, decisions);
  const wide = { decisions, outcomes };
  const ofFirst = await rehearsalOf(first);
  const recommended = ofFirst ? withRulesOf(ofFirst.plan, first) : first;
  if (!own) {
    const now = { plan: recommended, own: false, decided: [], start: first, rehearsal: ofFirst };
    return { ...now, rehearsalKey: keyOf(first), fold, next, recommended, wide };
  }
  const plan = withPageDecisions(recommended, own.rules);
  const rehearsal = await rehearsalOf(plan);
  const now = { plan, own: true, decided: own.rules, start: plan, rehearsal };
  return { ...now, rehearsalKey: keyOf(plan), fold, next, recommended, wide };
}

/** The plan of a page under conditions; null when it was not measured. */
export async function planNow(
  queries: Queries,
  pageId: number,
  conditionsId: string,
): Promise<PlanNow | null> {
  const page = await measuredPage(queries, pageId, conditionsId);
  return page && planFor(queries, pageId, page);
}

/** What treatments of a page are decided on: its fonts are looked for in all its sheets, so that is kept. */
export function sceneFor(page: MeasuredPage, fold: StoredFold | null, next: readonly NextAsset[]): Scene {
  const foldId = fold && `${fold.id} ${fold.proved || fold.accepted}`;
  const known = scenes.get(page);
  if (known?.foldId === foldId && known.scene.next === next) return known.scene;
  const scene = sceneOf(page.assets, fold, next);
  scenes.set(page, { foldId, scene });
  return scene;
}

/** A measured page as its plan treats it; null when it was not measured. */
export async function treatedNow(
  queries: Queries,
  pageId: number,
  conditionsId: string,
): Promise<{ page: MeasuredPage; now: PlanNow; treated: TreatedPage } | null> {
  const page = await measuredPage(queries, pageId, conditionsId);
  if (!page) return null;
  const now = await planFor(queries, pageId, page);
  return { page, now, treated: applyPlan(sceneFor(page, now.fold, now.next), now.plan) };
}

const scenes = new WeakMap<MeasuredPage, { foldId: string | null; scene: Scene }>();

type Recommended = ReturnType<typeof withDecisions>;

/** Recommendations given before, with the decisions that went in. */
const recommendations = new WeakMap<Scene, { of: string; recommended: Recommended }>();

/** What is recommended for a page, with what was decided for its family and site. */
export function recommendedFor(
  page: MeasuredPage,
  fold: StoredFold | null,
  next: readonly NextAsset[],
  decisions: readonly WideDecision[],
): Recommended {
  const scene = sceneFor(page, fold, next);
  const of = JSON.stringify(decisions);
  const known = recommendations.get(scene);
  if (known?.of === of) return known.recommended;
  const recommended = withDecisions(scene, recommendPlan(scene), decisions);
  recommendations.set(scene, { of, recommended });
  return recommended;
}
