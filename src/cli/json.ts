import type { Conditions } from '../core/measure/conditions.ts';
import type { MetricSpreads, Spread } from '../core/measure/metrics.ts';
import { mapRun } from '../core/path/map.ts';
import { findHiding } from '../core/treat/hiding.ts';
import type { FoldResult } from '../engine/fold/generate-fold.ts';
import type { ResultOf } from '../engine/jobs/orders.ts';
import { pageAssetsOf } from '../engine/treat-page.ts';

/** The JSON that the command line writes; docs/formats.md documents every key. */
export function mapJson(result: ResultOf<'measure'>, conditions: Conditions) {
  const { capture, bodies, measurement } = result;
  const run = measurement.runs[measurement.medianRun]!;
  const map = mapRun({
    documentUrl: capture.documentUrl,
    requests: run.requests,
    work: run.work,
    firstPaintMs: run.metrics.firstPaintMs,
    ruleUsage: capture.ruleUsage,
    hidingEndedBy: findHiding(pageAssetsOf(capture, bodies, run.requests)).flatMap((hiding) =>
      hiding.enders.map((ender) => ender.element.url ?? ''),
    ),
  });
  return {
    url: capture.url,
    conditions,
    network: 'DevTools protocol emulation',
    sentence: map.sentence,
    metrics: measurement.spreads as Record<keyof MetricSpreads, Spread>,
    assets: map.assets.map(
      ({
        url,
        kind,
        party,
        host,
        wireBytes,
        found,
        renderBlocking,
        hold,
        waitedMs,
        evidence,
        startMs,
        endMs,
      }) => ({
        url,
        kind,
        party,
        host,
        wireBytes,
        found,
        renderBlocking,
        hold,
        waitedMs,
        evidence,
        startMs,
        endMs,
      }),
    ),
    paintBill: map.paintBill.map(({ label, kind, url, startMs, endMs }) => ({
      label,
      kind,
      ...(url ? { url } : {}),
      startMs,
      endMs,
    })),
  };
}

export function foldJson(url: string, fold: FoldResult) {
  return {
    url,
    css: fold.css,
    sourceBytes: fold.sourceBytes,
    sourceCompressedBytes: fold.sourceCompressedBytes,
    foldBytes: fold.foldBytes,
    foldCompressedBytes: fold.foldCompressedBytes,
    proved: fold.proved,
    remarks: fold.remarks,
    viewports: fold.viewports.map(({ width, height, differingPixelShare, blank }) => ({
      width,
      height,
      differingPixelShare,
      blank,
    })),
    sheets: fold.sheets.map((sheet) => ({
      url: sheet.url,
      keptRules: sheet.kept.length,
      rules: sheet.rules,
      sourceBytes: sheet.sourceBytes,
      foldBytes: sheet.foldBytes,
    })),
  };
}

export function trialJson(url: string, { trial, notApplied }: ResultOf<'trial'>) {
  return {
    url,
    conditions: trial.conditionsId,
    sentence: trial.result.sentence,
    arms: trial.arms.map((arm) => ({ name: arm.name, metrics: arm.spreads })),
    verdicts: {
      firstPaint: { ...trial.result.firstPaint, withheld: trial.result.withheld.firstPaint },
      speedIndex: { ...trial.result.speedIndex, withheld: trial.result.withheld.speedIndex },
    },
    checks: trial.checks,
    notApplied,
    seed: trial.seed,
    windowMs: trial.windowMs,
  };
}
