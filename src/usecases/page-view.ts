import { HEADLINE_NAMES, headlineOfSpreads } from '../core/measure/headline.ts';
import { bytes, ms } from '../core/path/words.ts';
import { activeRules } from '../core/treat/plan.ts';
import type { Queries } from '../store/database.ts';
import { latestFold, latestTrial, type StoredFold, type StoredTrial } from '../store/proofs.ts';
import { findPage, listSites, type Page, type Site } from '../store/sites.ts';
import { mapOf } from './map-view.ts';
import { whyFoldStale, whyTrialStale } from './staleness.ts';
import { measuredPage, planFor, type MeasuredPage } from './stored-page.ts';

export type StageKey = 'measure' | 'map' | 'fold' | 'treat' | 'prove' | 'handoff';

/** A stage's state in words, with its most telling figure. */
export interface StageView {
  key: StageKey;
  state: 'nothing yet' | 'out of date' | 'current';
  figure: string;
}

export interface PageView {
  page: Page;
  site: Site;
  conditionsId: string;
  stages: StageView[];
}

/** A page with the state of each of its stages. */
export async function pageView(
  queries: Queries,
  pageId: number,
  conditionsId: string,
): Promise<PageView | null> {
  const page = await findPage(queries, pageId);
  if (!page) return null;
  const site = (await listSites(queries)).find((one) => one.id === page.siteId)!;
  const [measured, fold, trial] = await Promise.all([
    measuredPage(queries, pageId, conditionsId),
    latestFold(queries, pageId),
    latestTrial(queries, pageId, conditionsId),
  ]);
  const foldStale = fold !== null && (await whyFoldStale(queries, pageId, fold)).length > 0;
  const stages: StageView[] = measured
    ? [measureStage(measured), mapStage(measured, fold), foldStage(fold, foldStale)]
    : [nothingYet('measure'), nothingYet('map'), foldStage(fold, foldStale)];
  if (!measured) stages.push(nothingYet('treat'), nothingYet('prove'), nothingYet('handoff'));
  else {
    const { plan, own } = await planFor(queries, pageId, measured);
    const active = activeRules(plan).length;
    const stale = trial && (await whyTrialStale(queries, pageId, conditionsId, trial));
    stages.push(
      {
        key: 'treat',
        state: foldStale ? 'out of date' : 'current',
        figure: `${active} ${active === 1 ? 'rule' : 'rules'} · ${own ? 'yours' : 'recommended'}`,
      },
      trial ? proveStage(trial, stale ?? []) : nothingYet('prove'),
      { key: 'handoff', state: 'current', figure: `${active} ${active === 1 ? 'rule' : 'rules'} to put in` },
    );
  }
  return { page, site, conditionsId, stages };
}

function nothingYet(key: StageKey): StageView {
  return { key, state: 'nothing yet', figure: 'nothing yet' };
}

function measureStage({ measurement }: MeasuredPage): StageView {
  const headline = headlineOfSpreads(measurement.spreads);
  const paint = measurement.spreads[headline].median;
  const figure = paint === null ? 'never painted' : `${ms(paint)} ${HEADLINE_NAMES[headline]}`;
  return { key: 'measure', state: 'current', figure };
}

function mapStage(measured: MeasuredPage, fold: StoredFold | null): StageView {
  const { assets } = mapOf(measured, fold).map;
  const count = (hold: string) => assets.filter((asset) => asset.hold === hold).length;
  const figure = `${count('holds')} hold · ${count('crowds')} crowd · ${count('after')} after`;
  return { key: 'map', state: 'current', figure };
}

function foldStage(fold: StoredFold | null, stale: boolean): StageView {
  if (!fold) return nothingYet('fold');
  if (stale) return { key: 'fold', state: 'out of date', figure: 'out of date: page or CSS changed' };
  const proof = fold.proved ? 'proved' : fold.accepted ? 'not proved, used' : 'not proved';
  return { key: 'fold', state: 'current', figure: `${bytes(fold.foldBytes)} · ${proof}` };
}

function proveStage({ result }: StoredTrial, stale: readonly string[]): StageView {
  if (stale.length) return { key: 'prove', state: 'out of date', figure: `out of date: ${stale[0]}` };
  const { paint, verdict } = result;
  const figure =
    paint.verdict === verdict && (verdict === 'earlier' || verdict === 'later')
      ? `${ms(Math.abs(paint.differenceMs))} ${verdict}`
      : verdict;
  return { key: 'prove', state: 'current', figure };
}
