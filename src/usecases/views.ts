import { createTwoFilesPatch, FILE_HEADERS_ONLY } from 'diff';
import { broughtBy } from '../core/path/brought-by.ts';
import { bytes, ms } from '../core/path/words.ts';
import { applyPlan, choicesOf } from '../core/treat/apply.ts';
import { plainOffers, scriptOffers, styleOffers, type Offer } from '../core/treat/offers.ts';
import type { Conditions } from '../core/measure/conditions.ts';
import { HEADLINE_NAMES, headlineOfSpreads, type HeadlineKey } from '../core/measure/headline.ts';
import type { Rebound } from '../core/treat/rebind.ts';
import type { PageScript, PageStyle } from '../core/page/page-assets.ts';
import { activeRules, matchText, sameMatch, type Plan, type PlanRule } from '../core/treat/plan.ts';
import type { Change } from '../core/treat/compose.ts';
import { whyTrialStale } from '../core/trial/staleness.ts';
import type { TrialVerdict } from '../core/trial/verdict.ts';
import { faultsOf, type Exception, type Rehearsal } from '../core/rehearse/rehearsal.ts';
import { sceneOf } from '../core/treat/scene.ts';
import { treatmentLabel } from '../core/treat/treatments/index.ts';
import type { Queries } from '../store/database.ts';
import { latestMeasurements } from '../store/measurements.ts';
import { conditionsById } from '../store/conditions.ts';
import {
  latestFold,
  latestTrial,
  latestTrials,
  reboundOf,
  type StoredFold,
  type StoredTrial,
  type TrialOnBoard,
} from '../store/proofs.ts';
import { findPage, listPages, listSites, type Page, type Site } from '../store/sites.ts';
import { rehearsedSentence } from '../core/words/rehearsal.ts';
import { caveatsOf, emptyPaintOf } from './caveats.ts';
import { foldMark, markOf } from './fold-hash.ts';
import { mapOf } from './map-view.ts';
import { foldChanges } from './fold-view.ts';
import { measuredPage, planFor } from './stored-page.ts';

/** One row of the page board. */
export interface BoardRow extends Page {
  /** The headline of the newest measurement: first paint, or first contentful paint where that shows nothing. */
  paintMs: number | null;
  headline: HeadlineKey;
  speedIndexMs: number | null;
  largestContentfulPaintMs: number | null;
  wireBytes: number | null;
  measuredAt: string | null;
  /** What is to be known with its figures. */
  caveats: string[];
  tooBusy: boolean;
  /** Its newest trial; both figures are of the same runs. */
  trial: {
    /** Why it says nothing of what there is now; none while it holds. */
    stale: string[];
    verdict: TrialVerdict;
    headline: HeadlineKey;
    asIsMs: number | null;
    treatedMs: number | null;
  } | null;
}

export interface BoardView {
  sites: (Site & { pages: BoardRow[] })[];
}

export async function boardView(queries: Queries, conditionsId: string): Promise<BoardView> {
  const [conditions, sites, pages, measurements, trials] = await Promise.all([
    conditionsById(queries, conditionsId),
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
    const headline = measurement ? headlineOfSpreads(measurement.spreads) : 'firstPaintMs';
    return {
      ...page,
      headline,
      paintMs: measurement?.spreads[headline].median ?? null,
      speedIndexMs: measurement?.spreads.speedIndexMs.median ?? null,
      largestContentfulPaintMs: measurement?.spreads.largestContentfulPaintMs.median ?? null,
      wireBytes: measurement?.spreads.wireBytes.median ?? null,
      caveats: measurement ? caveatsOf(measurement) : [],
      tooBusy: measurement?.quality.tooBusy ?? false,
      measuredAt: measurement?.takenAt ?? null,
      trial: trial && conditions ? trialOnBoard(trial, conditions) : null,
    };
  });
  return { sites: sites.map((site) => ({ ...site, pages: rows.filter((row) => row.siteId === site.id) })) };
}

/** A trial as the board tells it: whether it still holds is told without reading the page. */
function trialOnBoard({ data, now, ...trial }: TrialOnBoard, conditions: Conditions): BoardRow['trial'] {
  // A recommended plan is another one only where page or fold CSS are: those are asked for themselves.
  const recommended = trial.ownPlan === false ? trial.plan : null;
  const plan = now.plan ?? recommended;
  const basis = { captureId: trial.captureId, plan: trial.plan, conditions: trial.conditions };
  const stale = whyTrialStale(
    { ...basis, fold: trial.foldHash },
    {
      captureId: now.captureId,
      plan: plan ?? { ...trial.plan, rules: [] },
      fold: now.foldHash === null ? null : markOf(now.foldHash, now.foldUsable),
      conditions,
    },
  );
  const { headline, verdict } = data.result;
  const of = (index: number) => data.arms[index]?.spreads[headline].median ?? null;
  return { stale, verdict, headline, asIsMs: of(0), treatedMs: of(1) };
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
    const headline = headlineOfSpreads(measured.measurement.spreads);
    const paint = measured.measurement.spreads[headline].median;
    add('measure', 'current', paint === null ? 'never painted' : `${ms(paint)} ${HEADLINE_NAMES[headline]}`);
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
    const conditions = await conditionsById(queries, conditionsId);
    const active = activeRules(plan).length;
    add('treat', foldStale ? 'out of date' : 'current', `${active} rules · ${own ? 'yours' : 'recommended'}`);
    if (!trial) add('prove', 'nothing yet', 'nothing yet');
    else {
      const stale = staleness(trial, plan, fold, measured.captureId, conditions);
      const { paint, verdict } = trial.result;
      add(
        'prove',
        stale.length ? 'out of date' : 'current',
        stale.length
          ? `out of date: ${stale[0]}`
          : paint.verdict === verdict && (verdict === 'earlier' || verdict === 'later')
            ? `${ms(Math.abs(paint.differenceMs))} ${verdict}`
            : verdict,
      );
    }
    add('handoff', 'current', `${active} ${active === 1 ? 'rule' : 'rules'} to put in`);
  }
  return { page, site, conditionsId, stages };
}

export interface TreatRow {
  rule: PlanRule;
  label: string;
  wireBytes: number | null;
  hold: string | null;
  /** What it is in the page as authored: "parser-blocking". */
  start: string;
  evidence: string | null;
  /** Addresses of what the page asks for because of it. */
  brings: string[];
  treatmentLabel: string;
  offers: Offer[];
  notApplied: string | null;
  changes: Change[];
  rehearsed: RehearsedState;
  /** What rehearsing it showed, where it is at fault. */
  fault: string | null;
}

/** A rehearsal as a screen tells it, each exception with the treatment as it is called. */
export type ShownRehearsal = Omit<Rehearsal, 'plan' | 'exceptions'> & {
  exceptions: (Exception & { label: string })[];
};

/** What rehearsing says of a rule: it does no harm; it does; it did, and has become something weaker, or nothing. */
export type RehearsedState = 'not yet' | 'holds' | 'breaks' | 'weakened' | 'excepted' | 'does nothing';

export interface TreatView {
  plan: Plan;
  own: boolean;
  /** Null until the plan has been rehearsed. */
  rehearsal: ShownRehearsal | null;
  /** The user's own plan without what rehearsing found at fault; null where there is no such thing. */
  withoutFaults: Plan | null;
  /** What became of the user's own plan when the page was captured anew; null once it was seen. */
  rebound: Rebound | null;
  rows: TreatRow[];
  /** The headline as is. */
  headlineMs: number | null;
  headline: HeadlineKey;
  emptyPaint: string | null;
  caveats: string[];
  foldState: 'none' | 'proved' | 'not proved';
}

export async function treatView(
  queries: Queries,
  pageId: number,
  conditionsId: string,
): Promise<TreatView | null> {
  const page = await measuredPage(queries, pageId, conditionsId);
  if (!page) return null;
  const { plan, own, fold, rehearsal } = await planFor(queries, pageId, page);
  const scene = sceneOf(page.assets, fold);
  const treated = applyPlan(scene, plan);
  const { map } = mapOf(page, fold);
  const scriptOf = ({ match }: PlanRule) => page.assets.scripts.find((one) => sameMatch(one.match, match));
  const chosen = choicesOf(scene, plan);
  const offersFor = (rule: PlanRule): Offer[] => {
    if (rule.kind === 'font' || rule.kind === 'host') return plainOffers(rule.kind);
    const script = rule.kind === 'script' ? scriptOf(rule) : undefined;
    if (script) return scriptOffers(scene, script, chosen);
    const style = page.assets.styles.find((one) => sameMatch(one.match, rule.match));
    return style ? styleOffers(scene, style) : [];
  };
  return {
    plan,
    own,
    rehearsal: rehearsal && shownRehearsal(rehearsal),
    rebound: own ? await reboundOf(queries, pageId) : null,
    withoutFaults: own && rehearsal && faultsOf(rehearsal).length ? rehearsal.plan : null,
    headlineMs: map.headlineMs,
    headline: headlineOfSpreads(page.measurement.spreads),
    emptyPaint: emptyPaintOf(page.measurement),
    caveats: caveatsOf(page.measurement),
    foldState: fold ? (fold.proved || fold.accepted ? 'proved' : 'not proved') : 'none',
    rows: plan.rules.map((rule): TreatRow => {
      const asset = map.assets.find((one) => one.url === matchText(rule.match));
      const script = scriptOf(rule);
      return {
        rule,
        label: script && script.element.url === null ? script.name : matchText(rule.match),
        wireBytes: asset?.wireBytes ?? null,
        hold: asset?.hold ?? null,
        start: startOf(
          rule,
          script,
          page.assets.styles.find((one) => sameMatch(one.match, rule.match)),
        ),
        evidence: asset?.evidence ?? null,
        brings: asset ? broughtBy(map.assets, asset.url) : [],
        treatmentLabel: treatmentLabel(rule.kind, rule.treatment),
        offers: offersFor(rule),
        notApplied: treated.notApplied.find((one) => one.ruleId === rule.id)?.why ?? null,
        changes: treated.changes.filter((change) => change.ruleId === rule.id),
        rehearsed: rehearsedState(rule, own, rehearsal),
        fault: rehearsal?.exceptions.find((one) => one.ruleId === rule.id)?.evidence ?? null,
      };
    }),
  };
}

/** Where an asset starts from, before anything is done to it. */
function startOf(rule: PlanRule, script: PageScript | undefined, style: PageStyle | undefined): string {
  if (rule.kind === 'font') return 'found in CSS';
  if (rule.kind === 'host') return 'found late';
  if (style?.element.printOnly) return 'for print';
  if (rule.kind === 'stylesheet') return 'render-blocking';
  if (!script) return 'not in the page';
  const { async, defer, module, url } = script.element;
  if (url === null) return module ? 'inline module' : 'inline';
  if (async) return 'async';
  return module ? 'module' : defer ? 'deferred' : 'parser-blocking';
}

function shownRehearsal({ plan, exceptions, ...rest }: Rehearsal): ShownRehearsal {
  const kindOf = (id: string) => plan.rules.find((rule) => rule.id === id)!.kind;
  return {
    ...rest,
    exceptions: exceptions.map((one) => ({
      ...one,
      label: treatmentLabel(kindOf(one.ruleId), one.treatment),
    })),
  };
}

function rehearsedState(rule: PlanRule, own: boolean, rehearsal: Rehearsal | null): RehearsedState {
  const fault = rehearsal?.exceptions.some((one) => one.ruleId === rule.id);
  if (fault && own) return 'breaks';
  if (fault) return rule.treatment === 'as-authored' ? 'excepted' : 'weakened';
  if (!rule.on || rule.treatment === 'as-authored') return 'does nothing';
  if (rehearsal === null) return 'not yet';
  return rehearsal.gaveUp ? 'breaks' : 'holds';
}

export type ProveView = StoredTrial & {
  /** Why it says nothing of what there is now; none while it holds. */
  stale: string[];
  caveats: string[];
  runsApart: boolean;
};

export async function proveView(
  queries: Queries,
  pageId: number,
  conditionsId: string,
): Promise<ProveView | null> {
  const trial = await latestTrial(queries, pageId, conditionsId);
  if (!trial) return null;
  const page = await measuredPage(queries, pageId, conditionsId);
  const conditions = await conditionsById(queries, conditionsId);
  const now = page && (await planFor(queries, pageId, page));
  return {
    ...trial,
    stale: now
      ? staleness(trial, now.plan, now.fold, page.captureId, conditions)
      : ['the page is not measured any more'],
    caveats: trial.conditions
      ? caveatsOf({
          spreads: trial.arms[0]!.spreads,
          conditions: trial.conditions,
          yardstick: trial.yardstick,
        })
      : [],
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
  const { plan, own, fold, rehearsal } = await planFor(queries, pageId, page);
  const treated = applyPlan(sceneOf(page.assets, fold), plan);
  const before = page.assets.document.bytes;
  const trial = await latestTrial(queries, pageId, conditionsId);
  const conditions = await conditionsById(queries, conditionsId);
  const stale = trial && staleness(trial, plan, fold, page.captureId, conditions);
  const decoder = new TextDecoder(page.assets.document.encoding);
  const text = (value: Uint8Array) => decoder.decode(value);
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
      ? `No trial has been run: prove the plan before you put it in. ${rehearsedSentence(rehearsal, own)}`
      : stale?.length
        ? `The last trial says nothing of this: ${stale.join(', ')}. Prove it again. ${rehearsedSentence(rehearsal, own)}`
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
  const treated = applyPlan(sceneOf(page.assets, fold), plan);
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

/** Why a trial says nothing of what there is now; none while it holds. */
function staleness(
  { captureId, plan, foldHash, conditions }: StoredTrial,
  planNow: Plan,
  foldNow: StoredFold | null,
  captureNow: number,
  conditionsNow: Conditions | null,
): string[] {
  return whyTrialStale(
    { captureId, plan, fold: foldHash, conditions },
    { captureId: captureNow, plan: planNow, fold: foldMark(foldNow), conditions: conditionsNow },
  );
}
