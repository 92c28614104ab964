import type { PageAssets } from '../core/treat/page-assets.ts';
import type { Capture } from '../core/measure/exchange.ts';
import type { Plan } from '../core/treat/plan.ts';
import type { RequestTiming } from '../core/measure/run.ts';
import { pageAssetsOf, recommendFor } from '../engine/treat-page.ts';
import { bodiesOf, findCapture } from '../store/captures.ts';
import type { Queries } from '../store/database.ts';
import {
  framesOf,
  measurementsOf,
  runsOf,
  type FrameInfo,
  type StoredMeasurement,
  type StoredRun,
} from '../store/measurements.ts';
import { findPlan, latestFold, type StoredFold } from '../store/proofs.ts';

/** A page with its newest measurement under conditions: what map, treat, prove and hand off start from. */
export interface MeasuredPage {
  measurement: StoredMeasurement;
  medianRun: StoredRun & { id: number };
  frames: FrameInfo[];
  captureId: number;
  capture: Capture;
  bodies: Map<string, Uint8Array>;
  requests: RequestTiming[];
  assets: PageAssets;
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

/** Reads what a measurement was made of; null when something of it is gone. */
export async function readMeasured(
  queries: Queries,
  measurement: StoredMeasurement,
): Promise<MeasuredPage | null> {
  const [stored, runs, bodies] = await Promise.all([
    findCapture(queries, measurement.captureId),
    runsOf(queries, measurement.id),
    bodiesOf(queries, measurement.captureId),
  ]);
  const medianRun = runs[measurement.medianRun];
  if (!stored || !medianRun) return null;
  const { capture } = stored;
  return {
    measurement,
    medianRun,
    frames: await framesOf(queries, medianRun.id),
    captureId: stored.id,
    capture,
    bodies,
    requests: medianRun.requests,
    assets: pageAssetsOf(capture, bodies, medianRun.requests),
  };
}

/** The page's own plan, or the recommended one where the user has not changed anything. */
export async function planFor(
  queries: Queries,
  pageId: number,
  page: MeasuredPage,
): Promise<{ plan: Plan; own: boolean; fold: StoredFold | null }> {
  const fold = await latestFold(queries, pageId);
  const own = await findPlan(queries, pageId);
  const recommended = recommendFor(page.capture, page.bodies, page.assets, fold);
  return { plan: own ?? recommended, own: own !== null, fold };
}
