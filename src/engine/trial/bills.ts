import type { Conditions } from '../../core/measure/conditions.ts';
import type { Bodies, Capture } from '../../core/measure/exchange.ts';
import type { HeadlineKey } from '../../core/measure/headline.ts';
import type { RunObservation } from '../../core/measure/run.ts';
import { readPageAssets, type PageAssets } from '../../core/page/page-assets.ts';
import { servedPage } from '../../core/page/served-page.ts';
import { mapPage, type MappedFold } from '../../core/path/map-page.ts';
import { whatIsLeft, type WhatIsLeft } from '../../core/trial/what-is-left.ts';
import type { TreatedPage } from '../../core/treat/apply.ts';

/** What the bills of a pair's loads are read with. */
export interface BilledPage {
  capture: Capture;
  bodies: Bodies;
  /** As authored. */
  assets: PageAssets;
  treated: TreatedPage;
  fold: MappedFold | null;
  conditions: Conditions;
}

/** The bills of a pair's two loads, held against each other. */
export function billsOfPair(
  { capture, bodies, assets, treated, fold, conditions }: BilledPage,
  pair: { asIs: RunObservation; treated: RunObservation },
  headline: HeadlineKey,
): WhatIsLeft {
  const mapped = (page: PageAssets, run: RunObservation) =>
    mapPage({ assets: page, run, runs: [run], conditions, fold, headline, earliestMs: null });
  const served = servedPage(capture, (hash) => bodies.get(hash) ?? null, treated);
  const asIs = mapped(assets, pair.asIs);
  const left = mapped(readPageAssets(served, pair.treated.requests), pair.treated);
  return whatIsLeft(asIs.map.paintBill, left.map.paintBill, asIs.floor?.atMs ?? null);
}
