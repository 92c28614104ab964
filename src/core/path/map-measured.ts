import type { Conditions } from '../measure/conditions.ts';
import type { Bodies, Capture } from '../measure/exchange.ts';
import { headlineOfSpreads } from '../measure/headline.ts';
import type { MetricSpreads } from '../measure/metrics.ts';
import type { RunObservation } from '../measure/run.ts';
import { CapturedPage } from '../page/captured-page.ts';
import { readPageAssets } from '../page/page-assets.ts';
import { mapPage, type MappedPage } from './map-page.ts';

/** A captured page with the runs that were measured of it. */
export interface MeasuredCapture {
  capture: Capture;
  bodies: Bodies;
  measurement: { runs: readonly RunObservation[]; medianRun: number; spreads: MetricSpreads };
}

/** The map of a page that was just measured, by its median run and without fold CSS. */
export function mapMeasured(
  { capture, bodies, measurement }: MeasuredCapture,
  conditions: Conditions,
): MappedPage {
  const run = measurement.runs[measurement.medianRun]!;
  const headline = headlineOfSpreads(measurement.spreads);
  return mapPage({
    assets: readPageAssets(new CapturedPage(capture, bodies), run.requests),
    run,
    runs: measurement.runs,
    conditions,
    fold: null,
    headline,
    earliestMs: measurement.spreads[headline].min,
  });
}
