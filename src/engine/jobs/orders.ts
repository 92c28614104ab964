import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { AcceptedCertificate } from '../chromium/certificates.ts';
import type { Conditions } from '../../core/measure/conditions.ts';
import type { Capture } from '../../core/measure/exchange.ts';
import type { Metrics } from '../../core/measure/metrics.ts';
import type { RequestTiming } from '../../core/measure/run.ts';
import type { VisitKind, VisitSettings, VisitState } from '../../core/measure/visit.ts';
import type { Yardstick } from '../../core/measure/yardstick.ts';
import { activeRules, type Plan } from '../../core/treat/plan.ts';
import { waitForLock } from '../../locks/process-lock.ts';
import { capturePage, type CaptureResult } from '../capture/capture-page.ts';
import { LOAD_LIMITS, type LoadLimits } from '../chromium/visit.ts';
import { discoverPages, type FoundPage } from '../discover/discover-pages.ts';
import { inPlainWords, stopIfCancelled, Trouble } from '../errors.ts';
import { readHarFile, type HarContents } from '../har/read-har-file.ts';
import type { FoldResult } from '../fold/fold-result.ts';
import { checkFold, type CheckRequest, type FoldCheck } from '../fold/check-fold.ts';
import { generateFold, type FoldRequest } from '../fold/generate-fold.ts';
import {
  makeLighterFiles,
  type LighterFilesRequest,
  type MadeLighter,
} from '../lighter/make-lighter-files.ts';
import { measureCapture, type Measurement } from '../lab/measure-capture.ts';
import type { NextPages } from '../../core/next/next-assets.ts';
import { madeDifferently } from '../../core/next/two-plans.ts';
import type { Scene } from '../../core/treat/treatment.ts';
import { runNavigation, type NavigationTrial } from '../trial/run-navigation.ts';
import { applyPlan, type NotApplied } from '../../core/treat/apply.ts';
import { sceneOf } from '../../core/treat/scene.ts';
import type { MappedFold } from '../../core/path/map-page.ts';
import { CapturedPage } from '../../core/page/captured-page.ts';
import { readPageAssets } from '../../core/page/page-assets.ts';
import { rehearse } from '../rehearse/rehearse.ts';
import { PHONE } from '../rehearse/settings.ts';
import type { EvidencePictures, FoundSoFar, Rehearsal } from '../../core/rehearse/rehearsal.ts';
import type { OwnCheck } from '../../core/checks/own-check.ts';
import type { PairsWish } from '../../core/trial/looks.ts';
import { ruleSteps } from '../../core/trial/rule-steps.ts';
import { runRuleGains, type MeasuredRuleGains } from '../trial/run-rule-gains.ts';
import { runTrial } from '../trial/run-trial.ts';
import type { PageBeside, Trial } from '../trial/trial.ts';
import { IDEAL, OTHER_PLAN } from '../../core/trial/arms.ts';
import { idealPage } from '../../core/treat/ideal-page.ts';

/** Work that drives Chromium, with all it needs: it knows no database. */
export type Order =
  | ({ kind: 'capture' } & LivePage)
  | ({ kind: 'measure'; runs: number; returnVisits: boolean; yardstick: Yardstick | null } & LivePage)
  | {
      kind: 'replay';
      pageName: string;
      capture: Capture;
      bodies: Map<string, Uint8Array>;
      state: VisitState | null;
      conditions: Conditions;
      runs: number;
      returnVisits: boolean;
      yardstick: Yardstick | null;
    }
  | {
      kind: 'discover';
      pageName: string;
      url: string;
      limit: number;
      accepted: AcceptedCertificate[];
    }
  | { kind: 'read-har'; pageName: string; path: string }
  | ({ kind: 'fold'; pageName: string } & Omit<FoldRequest, 'onProgress' | 'signal'>)
  | ({ kind: 'lighter-images'; pageName: string } & Omit<LighterFilesRequest, 'onProgress' | 'signal'>)
  | ({ kind: 'check-fold'; pageName: string } & Omit<CheckRequest, 'onProgress' | 'signal'>)
  | ({
      kind: 'rehearse';
      checks: readonly OwnCheck[];
      /** On a phone alone: for pages that are looked at beside another one. */
      quick?: boolean;
      /** What was found before it was broken off. */
      before?: FoundSoFar;
    } & PlannedPage)
  | ({
      kind: 'trial';
      pairs: PairsWish;
      /** What rehearsing this very plan has shown; null where that was not done. */
      rehearsal: Rehearsal | null;
      /** Carry out rules that are refused otherwise. */
      evenIllegal?: boolean;
      /** Another plan, in the place of the page as is. */
      against?: Plan;
      /** Which visit is timed; the first where this is not said. */
      visit?: VisitKind;
      /** Further arms: another plan beside these two, and the page as its floor takes it to be. */
      beside?: ArmsBeside;
    } & TimedPlan)
  | ({
      kind: 'navigation';
      /** The page that is gone to, and its own plan where that is tried as well. */
      to: Pick<PlannedPage, 'capture' | 'bodies'> & { name: string; planned: OwnPlan | null };
      pairs: number;
    } & TimedPlan)
  | ({
      kind: 'rule-gains';
      /** How long the headline waited for each address as is, ms. */
      waitedMs: Map<string, number>;
      /** How often every step is loaded. */
      rounds: number;
      /** What was taken before it was broken off: of each round the metrics of its arms. */
      before?: Metrics[][];
    } & TimedPlan);

/** What a trial loads besides. */
export interface ArmsBeside {
  otherPlan?: Plan;
  idealPage?: boolean;
}

/** A page to be loaded from where it is. */
interface LivePage {
  pageName: string;
  url: string;
  conditions: Conditions;
  accepted: AcceptedCertificate[];
  visit: VisitSettings;
  ownClock: boolean;
}

/** What a page's own plan is applied with. */
export type OwnPlan = Pick<PlannedPage, 'requests' | 'plan' | 'fold' | 'next'>;

/** A captured page with what is to be done to it. */
interface PlannedPage {
  pageName: string;
  capture: Capture;
  bodies: Map<string, Uint8Array>;
  state: VisitState | null;
  requests: RequestTiming[];
  plan: Plan;
  fold: MappedFold | null;
  /** What can be asked for ahead of its next pages; nothing where that is not known. */
  next?: NextPages;
}

/** The same, loaded under conditions. */
interface TimedPlan extends PlannedPage {
  yardstick: Yardstick | null;
  conditions: Conditions;
}

export type OrderResult =
  | ({ kind: 'capture' } & CaptureResult)
  | ({ kind: 'measure'; measurement: Measurement } & CaptureResult)
  | { kind: 'replay'; measurement: Measurement }
  | { kind: 'discover'; found: FoundPage[] }
  | ({ kind: 'read-har' } & HarContents)
  | { kind: 'fold'; fold: FoldResult }
  | ({ kind: 'lighter-images' } & MadeLighter)
  | { kind: 'check-fold'; check: FoldCheck }
  | { kind: 'rehearse'; rehearsal: Rehearsal; pictures: EvidencePictures[] }
  | { kind: 'trial'; trial: Trial; notApplied: NotApplied[] }
  | { kind: 'navigation'; navigation: NavigationTrial }
  | { kind: 'rule-gains'; gains: MeasuredRuleGains };

export type ResultOf<K extends Order['kind']> = Extract<OrderResult, { kind: K }>;

export type Say = (step: string, done: number, of: number) => void;

/** What has been found of what is not finished yet, by which a broken off work goes on. */
export type SoFar =
  /** A round of loads: the metrics of its arms. */
  { kind: 'round'; metrics: Metrics[] } | ({ kind: 'rehearsal' } & FoundSoFar);
export type OnSoFar = (soFar: SoFar) => void;

const DOING: Record<Order['kind'], string> = {
  capture: 'capturing',
  measure: 'measuring',
  replay: 'measuring',
  discover: 'looking for pages at',
  'read-har': 'reading',
  fold: 'making the fold CSS of',
  'lighter-images': 'making lighter files of',
  'check-fold': 'checking fold CSS of',
  rehearse: 'rehearsing the plan of',
  trial: 'a trial of',
  navigation: 'going on from',
  'rule-gains': 'measuring what each rule gains on',
};

/** One measuring at a time on the machine: the application and the command line share this lock. */
function measuringLock(): string {
  return process.env['WISTREL_MEASURING_LOCK'] ?? join(tmpdir(), 'wistrel-measuring.lock');
}

/** A load may be given less time than the built-in limit, for tests and impatient machines. */
function loadLimits(): LoadLimits {
  const given = Number(process.env['WISTREL_LOAD_LIMIT_MS']);
  return given > 0 ? { ...LOAD_LIMITS, loadMs: given } : LOAD_LIMITS;
}

/**
 * Carries out an order, once the machine's measuring lock is had.
 *
 * @throws Trouble in plain words
 */
export async function carryOut<O extends Order>(
  order: O,
  say: Say,
  signal?: AbortSignal,
  onSoFar?: OnSoFar,
): Promise<ResultOf<O['kind']>> {
  let release: () => void;
  try {
    const what = `${DOING[order.kind]} ${order.pageName}`;
    release = await waitForLock(
      measuringLock(),
      what,
      (holder) => say(`Waiting for another measuring (${holder.what})`, 0, 1),
      signal,
    );
  } catch (error) {
    stopIfCancelled(signal);
    throw error;
  }
  try {
    return (await perform(order, say, signal, onSoFar)) as ResultOf<O['kind']>;
  } catch (error) {
    stopIfCancelled(signal);
    throw inPlainWords(error);
  } finally {
    release();
  }
}

async function perform(
  order: Order,
  say: Say,
  signal: AbortSignal | undefined,
  onSoFar: OnSoFar | undefined,
): Promise<OrderResult> {
  const watch = signal ? { signal } : {};
  const limits = loadLimits();
  switch (order.kind) {
    case 'capture':
      return {
        kind: 'capture',
        ...(await captureLive(order, (text, done) => say(text, done, 3), { limits, ...watch })),
      };
    case 'measure':
      return measureLive(order, say, { limits, ...watch });
    case 'replay': {
      const { kind: _kind, pageName: _name, ...request } = order;
      return {
        kind: 'replay',
        measurement: await measureCapture({ ...request, limits, onProgress: say, ...watch }),
      };
    }
    case 'discover':
      return { kind: 'discover', found: await discoverPages({ ...order, onProgress: say, ...watch }) };
    case 'read-har':
      return {
        kind: 'read-har',
        ...(await readHarFile(order.path, (share) => say('Reading the file', Math.round(share * 100), 100))),
      };
    case 'fold': {
      const { kind: _kind, pageName: _name, ...request } = order;
      return { kind: 'fold', fold: await generateFold({ ...request, onProgress: say, ...watch }) };
    }
    case 'lighter-images':
      return {
        kind: 'lighter-images',
        ...(await makeLighterFiles({ ...order, onProgress: say, ...watch })),
      };
    case 'check-fold': {
      const { kind: _kind, pageName: _name, ...request } = order;
      return { kind: 'check-fold', check: await checkFold({ ...request, onProgress: say, ...watch }) };
    }
    case 'rehearse': {
      const { capture, bodies, state, plan, checks, next, quick, before } = order;
      const scene = sceneOfOrder(order);
      const pictures: EvidencePictures[] = [];
      return {
        kind: 'rehearse',
        pictures,
        rehearsal: await rehearse({
          capture,
          bodies,
          state,
          scene,
          plan,
          checks,
          answers: next?.answers ?? [],
          ...(quick ? { devices: [PHONE] } : {}),
          ...(before ? { before } : {}),
          onEvidence: (shown) => pictures.push(shown),
          onFound: (found) => onSoFar?.({ kind: 'rehearsal', ...found }),
          onProgress: say,
          ...watch,
        }),
      };
    }
    case 'trial':
      return holdTrial(order, say, { limits, ...watch });
    case 'navigation':
      return navigate(order, say, { limits, ...watch });
    case 'rule-gains':
      return measureRuleGains(order, say, {
        limits,
        ...watch,
        onRound: (metrics) => onSoFar?.({ kind: 'round', metrics }),
      });
  }
}

type Watch = { limits: LoadLimits; signal?: AbortSignal };
type OrderOf<K extends Order['kind']> = Extract<Order, { kind: K }>;

function captureLive(
  { url, conditions, accepted, visit, ownClock }: LivePage,
  say: (text: string, done: number) => void,
  watch: Watch,
): Promise<CaptureResult> {
  let step = 0;
  return capturePage({
    url,
    conditions,
    accepted,
    visit,
    ownClock,
    onProgress: (text) => say(text, step++),
    ...watch,
  });
}

/** Captures the live page, then measures what was captured in replay. */
async function measureLive(order: OrderOf<'measure'>, say: Say, watch: Watch): Promise<ResultOf<'measure'>> {
  const steps = order.runs + 4;
  const captured = await captureLive(order, (text, done) => say(text, done, steps), watch);
  const measurement = await measureCapture({
    ...captured,
    conditions: order.conditions,
    runs: order.runs,
    returnVisits: order.returnVisits,
    yardstick: order.yardstick,
    onProgress: (text, done) => say(text, done + 3, steps),
    ...watch,
  });
  return { kind: 'measure', ...captured, measurement };
}

async function holdTrial(order: OrderOf<'trial'>, say: Say, watch: Watch): Promise<ResultOf<'trial'>> {
  const {
    kind: _kind,
    requests: _requests,
    plan,
    fold,
    next,
    evenIllegal = false,
    against,
    visit = 'first',
    beside = {},
    ...request
  } = order;
  const scene = sceneOfOrder(order);
  const treated = applyPlan(scene, plan, { evenIllegal });
  const asIs = applyPlan(scene, against ?? { ...plan, rules: [] }, { evenIllegal });
  const isFirst = visit === 'first';
  // What is left is told beside the page as is, of whose first visit the map is.
  const billed = against || !isFirst ? null : { ...request, assets: scene.page, treated, fold };
  const answers = next?.answers ?? [];
  const trial = await runTrial({
    ...request,
    asIs,
    isAsIs: against === undefined,
    treated,
    parts:
      isFirst && !against
        ? {
            rules: activeRules(plan),
            treatedWith: (rules) => applyPlan(scene, { ...plan, rules: [...rules] }, { evenIllegal }),
          }
        : null,
    answers,
    billed,
    bothDevices: true,
    visit,
    returnVisits: isFirst,
    taps: isFirst,
    beside: [
      ...(beside.otherPlan
        ? [{ id: OTHER_PLAN, page: applyPlan(scene, beside.otherPlan, { evenIllegal }) }]
        : []),
      ...(beside.idealPage ? [{ id: IDEAL, page: idealArm(scene) }] : []),
    ],
    onProgress: say,
    ...watch,
  });
  return { kind: 'trial', trial, notApplied: treated.notApplied };
}

/** @throws Trouble without fold CSS, of which the ideal page is made */
function idealArm({ page, fold }: Scene): PageBeside['page'] {
  if (fold.length === 0)
    throw new Trouble(
      'input',
      'The ideal page is made of the page’s fold CSS, and there is none yet. Make it in Fold CSS first. Nothing stored was changed.',
    );
  return { html: idealPage(page.captured, fold.map(({ css }) => css).join('\n')), files: [], notApplied: [] };
}

/** Goes on from a page with its plan, once with and once without what that asks for ahead. */
async function navigate(
  order: OrderOf<'navigation'>,
  say: Say,
  watch: Watch,
): Promise<ResultOf<'navigation'>> {
  const { capture, bodies, state, yardstick, conditions, plan, to, pairs } = order;
  const scene = sceneOfOrder(order);
  const without = { ...plan, rules: plan.rules.filter((rule) => rule.kind !== 'next') };
  const ahead = applyPlan(scene, plan);
  const treated = to.planned && applyPlan(sceneOfOrder({ ...to, ...to.planned }), to.planned.plan);
  const differs = treated && madeDifferently(ahead, treated);
  const navigation = await runNavigation({
    capture,
    bodies,
    state,
    yardstick,
    conditions,
    without: applyPlan(scene, without),
    ahead,
    next: {
      ...to,
      treated: differs ? null : treated,
      plan: differs ? { state: 'differs', url: differs } : { state: treated ? 'tried' : 'none' },
    },
    pairs,
    onProgress: say,
    ...watch,
  });
  return { kind: 'navigation', navigation };
}

function sceneOfOrder({
  capture,
  bodies,
  requests,
  fold,
  next,
}: Omit<PlannedPage, 'pageName' | 'state' | 'plan'>): Scene {
  return sceneOf(readPageAssets(new CapturedPage(capture, bodies), requests), fold, next?.assets);
}

async function measureRuleGains(
  order: OrderOf<'rule-gains'>,
  say: Say,
  watch: Watch & { onRound: (metrics: Metrics[]) => void },
): Promise<ResultOf<'rule-gains'>> {
  const { kind: _kind, pageName: _name, waitedMs, ...request } = order;
  const scene = sceneOfOrder(order);
  const steps = ruleSteps(scene, order.plan, (url) => waitedMs.get(url) ?? 0);
  if (steps.length === 0)
    throw new Trouble(
      'input',
      'No rule of the plan acts, so there is nothing to measure rule by rule. Switch a rule on in Treat. Nothing stored was changed.',
    );
  const gains = await runRuleGains({ ...request, scene, steps, onProgress: say, ...watch });
  return { kind: 'rule-gains', gains };
}
