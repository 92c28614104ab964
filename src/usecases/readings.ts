import type { Transactions } from '../store/database.ts';
import { assetPicture, assetView } from './asset-view.ts';
import { assetTable, mapView, waitedFor } from './map-view.ts';
import { planExcepting } from './except-rule.ts';
import { familyCheckView, planOnPage } from './family-check.ts';
import { foldView } from './fold-view.ts';
import { handoffOthers } from './handoff-others.ts';
import { handoffArchive, handoffView } from './handoff-view.ts';
import { harText } from './har.ts';
import { measureView } from './measure-view.ts';
import { pageView } from './page-view.ts';
import { previewArm } from './preview-arm.ts';
import { proveView } from './prove-view.ts';
import { rebindDecisions } from './page-decisions.ts';
import { nextOrder, nextView } from './next-view.ts';
import { ruleGainsView } from './rule-gains-view.ts';
import { reportOf } from './report.ts';
import { keepScriptFacts } from './keep-script-facts.ts';
import { planNow } from './stored-page.ts';
import { treatView } from './treat-view.ts';

/**
 * All that reads captured pages: it is heavy, and what it reads is anybody's. So it happens in threads of
 * its own, and what it gives back can be handed from one thread to another.
 */
export const READINGS = {
  page: pageView,
  measure: measureView,
  map: mapView,
  'asset table': assetTable,
  waited: waitedFor,
  asset: assetView,
  picture: assetPicture,
  fold: foldView,
  treat: treatView,
  prove: proveView,
  'rule gains': ruleGainsView,
  next: nextView,
  'next pages': nextOrder,
  handoff: handoffView,
  'handoff others': handoffOthers,
  'handoff archive': handoffArchive,
  har: harText,
  report: reportOf,
  plan: planNow,
  'plan excepting': planExcepting,
  'script facts': keepScriptFacts,
  'rebind decisions': rebindDecisions,
  'family check': familyCheckView,
  'plan on page': planOnPage,
  'preview arm': previewArm,
} satisfies Record<string, (database: Transactions, ...rest: never[]) => Promise<unknown>>;

export type ReadingName = keyof typeof READINGS;

type Reading<N extends ReadingName> = (typeof READINGS)[N];

/** What a reading is given besides its database. */
export type RestOf<N extends ReadingName> =
  Reading<N> extends (database: never, ...rest: infer R) => unknown ? R : never;

/** What it gives back. */
export type ReadingOf<N extends ReadingName> = Awaited<ReturnType<Reading<N>>>;

/** Asks for a reading by its name. */
export type Read = <N extends ReadingName>(name: N, ...rest: RestOf<N>) => Promise<ReadingOf<N>>;
