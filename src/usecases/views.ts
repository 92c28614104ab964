import { createTwoFilesPatch, FILE_HEADERS_ONLY } from 'diff';
import { broughtBy } from '../core/path/brought-by.ts';
import { bytes, ms } from '../core/path/words.ts';
import { offersFor, styleOffersFor, type Offer } from '../core/treat/legal.ts';
import { activeRules, matchText, planFingerprint, type Plan, type PlanRule } from '../core/treat/plan.ts';
import type { Change } from '../core/treat/apply.ts';
import type { Verdict } from '../core/trial/statistics.ts';
import { treat } from '../engine/treat-page.ts';
import { bodyOf } from '../engine/stored-page.ts';
import type { Queries } from '../store/database.ts';
import { latestMeasurements } from '../store/measurements.ts';
import { latestFold, latestTrial, latestTrials, type StoredTrial } from '../store/proofs.ts';
import { findPage, listPages, listSites, type Page, type Site } from '../store/sites.ts';
import { mapOf } from './map-view.ts';
import { foldChanges } from './fold-view.ts';
import { measuredPage, planFor, type MeasuredPage } from './stored-page.ts';

/** One row of the page board. */
export interface BoardRow extends Page {
  firstPaintMs: number | null;
  speedIndexMs: number | null;
  largestContentfulPaintMs: number | null;
  wireBytes: number | null;
  measuredAt: string | null;
  /** The trial is of another plan or an older capture. */
  trialStale: boolean;
  tooBusy: boolean;
  treatedFirstPaintMs: number | null;
  verdict: Verdict | null;
}

export interface BoardView {
  sites: (Site & { pages: BoardRow[] })[];
}

export async function boardView(queries: Queries, conditionsId: string): Promise<BoardView> {
  const [sites, pages, measurements, trials] = await Promise.all([
    listSites(queries),
    listPages(queries),
    latestMeasurements(queries, conditionsId),
    latestTrials(queries, conditionsId),
  ]);
  const measured = new Map(measurements.map((one) => [one.pageId, one]));
  const tried = new Map(trials.map((one) => [one.pageId, one]));
  const rows = pages.map((page): BoardRow => {
    const measurement = measured.get(page.id);
    const trial = tried.get(page.id);
    return {
      ...page,
      firstPaintMs: measurement?.spreads.firstPaintMs.median ?? null,
      speedIndexMs: measurement?.spreads.speedIndexMs.median ?? null,
      largestContentfulPaintMs: measurement?.spreads.largestContentfulPaintMs.median ?? null,
      wireBytes: measurement?.spreads.wireBytes.median ?? null,
      trialStale: trial !== undefined && trial.captureId !== measurement?.captureId,
      tooBusy: measurement?.quality.tooBusy ?? false,
      measuredAt: measurement?.takenAt ?? null,
      treatedFirstPaintMs: trial?.data.arms[1]?.spreads.firstPaintMs.median ?? null,
      verdict: trial?.data.result.firstPaint.verdict ?? null,
    };
  });
  return { sites: sites.map((site) => ({ ...site, pages: rows.filter((row) => row.siteId === site.id) })) };
}

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

export async function pageView(
  queries: Queries,
  pageId: number,
  conditionsId: string,
): Promise<PageView | null> {
  const page = await findPage(queries, pageId);
  if (!page) return null;
  const site = (await listSites(queries)).find((one) => one.id === page.siteId)!;
  const measured = await measuredPage(queries, pageId, conditionsId);
  const fold = await latestFold(queries, pageId);
  const trial = await latestTrial(queries, pageId, conditionsId);
  const stages: StageView[] = [];
  const add = (key: StageKey, state: StageView['state'], figure: string) =>
    stages.push({ key, state, figure });
  if (!measured) {
    for (const key of ['measure', 'map'] as const) add(key, 'nothing yet', 'nothing yet');
  } else {
    const paint = measured.measurement.spreads.firstPaintMs.median;
    add('measure', 'current', paint === null ? 'never painted' : `${ms(paint)} first paint`);
    const { assets } = mapOf(measured, fold).map;
    const count = (hold: string) => assets.filter((asset) => asset.hold === hold).length;
    add('map', 'current', `${count('holds')} hold · ${count('crowds')} crowd · ${count('after')} after`);
  }
  const foldStale = fold !== null && (await foldChanges(queries, pageId, fold)).length > 0;
  if (!fold) add('fold', 'nothing yet', 'nothing yet');
  else
    add(
      'fold',
      foldStale ? 'out of date' : 'current',
      foldStale
        ? 'out of date: page or CSS changed'
        : `${bytes(fold.foldBytes)} · ${fold.proved ? 'proved' : fold.accepted ? 'not proved, used' : 'not proved'}`,
    );
  if (!measured) {
    for (const key of ['treat', 'prove', 'handoff'] as const) add(key, 'nothing yet', 'nothing yet');
  } else {
    const { plan, own } = await planFor(queries, pageId, measured);
    const active = activeRules(plan).length;
    add('treat', foldStale ? 'out of date' : 'current', `${active} rules · ${own ? 'yours' : 'recommended'}`);
    if (!trial) add('prove', 'nothing yet', 'nothing yet');
    else {
      const stale = isTrialStale(trial, plan, measured);
      const paint = trial.result.firstPaint;
      add(
        'prove',
        stale ? 'out of date' : 'current',
        stale
          ? 'out of date: changed since'
          : paint.verdict === 'earlier' || paint.verdict === 'later'
            ? `${ms(Math.abs(paint.differenceMs))} ${paint.verdict}`
            : paint.verdict,
      );
    }
    add('handoff', 'current', `${active} changes to put in`);
  }
  return { page, site, conditionsId, stages };
}

export interface TreatRow {
  rule: PlanRule;
  label: string;
  wireBytes: number | null;
  hold: string | null;
  evidence: string | null;
  /** Addresses of what the page asks for because of it. */
  brings: string[];
  offers: Offer[];
  notApplied: string | null;
  changes: Change[];
}

export interface TreatView {
  plan: Plan;
  own: boolean;
  rows: TreatRow[];
  firstPaintMs: number | null;
  foldState: 'none' | 'proved' | 'not proved';
}

export async function treatView(
  queries: Queries,
  pageId: number,
  conditionsId: string,
): Promise<TreatView | null> {
  const page = await measuredPage(queries, pageId, conditionsId);
  if (!page) return null;
  const { plan, own, fold } = await planFor(queries, pageId, page);
  const treated = treat(page.capture, page.bodies, page.assets, plan, fold);
  const { map } = mapOf(page, fold);
  const scriptOf = (rule: PlanRule) =>
    page.assets.scripts.find((one) => matchText(one.match) === matchText(rule.match));
  const deferred = activeRules(plan).flatMap((rule) =>
    rule.treatment === 'defer' ? (scriptOf(rule) ?? []) : [],
  );
  return {
    plan,
    own,
    firstPaintMs: map.firstPaintMs,
    foldState: fold ? (fold.proved || fold.accepted ? 'proved' : 'not proved') : 'none',
    rows: plan.rules.map((rule): TreatRow => {
      const asset = map.assets.find((one) => one.url === matchText(rule.match));
      const script = scriptOf(rule);
      return {
        rule,
        label: script && script.element.url === null ? script.name : matchText(rule.match),
        wireBytes: asset?.wireBytes ?? null,
        hold: asset?.hold ?? null,
        evidence: asset?.evidence ?? null,
        brings: asset ? broughtBy(map.assets, asset.url) : [],
        offers: script
          ? offersFor(page.assets, script, deferred)
          : rule.kind === 'stylesheet'
            ? styleOffersFor(page.assets)
            : [],
        notApplied: treated.notApplied.find((one) => one.ruleId === rule.id)?.why ?? null,
        changes: treated.changes.filter((change) => change.ruleId === rule.id),
      };
    }),
  };
}

export type ProveView = StoredTrial & { stale: boolean; runsApart: boolean };

export async function proveView(
  queries: Queries,
  pageId: number,
  conditionsId: string,
): Promise<ProveView | null> {
  const trial = await latestTrial(queries, pageId, conditionsId);
  if (!trial) return null;
  const page = await measuredPage(queries, pageId, conditionsId);
  const plan = page && (await planFor(queries, pageId, page)).plan;
  return {
    ...trial,
    stale: !page || !plan || isTrialStale(trial, plan, page),
    runsApart: activeRules(trial.plan).some((rule) => rule.treatment === 'delay'),
  };
}

export interface HandoffView {
  difference: string;
  changes: Change[];
  files: { url: string; isNew: boolean; bytes: number }[];
  notApplied: { ruleId: string; why: string }[];
  /** Nonces of this capture that what is put in carries. */
  nonces: string[];
  htmlBytes: { before: number; after: number };
  /** What the newest trial said of this very plan, or why there is nothing to say. */
  proof: string;
}

export interface HandoffFiles {
  html: Uint8Array;
  files: { name: string; text: string }[];
  plan: Plan;
}

export async function handoffView(
  queries: Queries,
  pageId: number,
  conditionsId: string,
): Promise<HandoffView | null> {
  const page = await measuredPage(queries, pageId, conditionsId);
  if (!page) return null;
  const { plan, fold } = await planFor(queries, pageId, page);
  const treated = treat(page.capture, page.bodies, page.assets, plan, fold);
  const before = bodyOf(page.capture, page.bodies, page.capture.documentUrl)!;
  const trial = await latestTrial(queries, pageId, conditionsId);
  const text = (value: Uint8Array) => new TextDecoder().decode(value);
  return {
    difference: createTwoFilesPatch('as authored', 'treated', text(before), text(treated.html), '', '', {
      context: 2,
      headerOptions: FILE_HEADERS_ONLY,
    }),
    changes: treated.changes,
    files: treated.files.map((file) => ({ url: file.url, isNew: file.isNew, bytes: file.text.length })),
    notApplied: treated.notApplied,
    nonces: treated.nonces,
    htmlBytes: { before: before.length, after: treated.html.length },
    proof: !trial
      ? 'No trial has been run: prove the plan before you put it in.'
      : isTrialStale(trial, plan, page)
        ? 'The last trial was of another plan or an older page: prove it again.'
        : trial.result.sentence,
  };
}

/** The files of the hand-off: treated HTML, new and changed files under their paths, and the plan. */
export async function handoffFiles(
  queries: Queries,
  pageId: number,
  conditionsId: string,
): Promise<HandoffFiles | null> {
  const page = await measuredPage(queries, pageId, conditionsId);
  if (!page) return null;
  const { plan, fold } = await planFor(queries, pageId, page);
  const treated = treat(page.capture, page.bodies, page.assets, plan, fold);
  const own = new URL(page.capture.documentUrl).host;
  const files = treated.files.map((file) => {
    const { host, pathname } = new URL(file.url);
    return {
      name: (host === own ? '' : `${host.replace(':', '_')}/`) + pathname.replace(/^\//, ''),
      text: file.text,
    };
  });
  if (fold) files.push({ name: 'fold.css', text: fold.css });
  return { html: treated.html, files, plan };
}

function isTrialStale(trial: StoredTrial, plan: Plan, page: MeasuredPage): boolean {
  return trial.captureId !== page.captureId || planFingerprint(trial.plan) !== planFingerprint(plan);
}
