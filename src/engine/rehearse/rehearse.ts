import type { OwnCheck } from '../../core/checks/own-check.ts';
import type { PageCheck } from '../../core/checks/page-check.ts';
import type { Bodies, Capture } from '../../core/measure/exchange.ts';
import type { VisitState } from '../../core/measure/visit.ts';
import type { NextAnswer } from '../../core/next/next-assets.ts';
import { findFault } from '../../core/rehearse/find-fault.ts';
import type { Difference } from '../../core/rehearse/outcome.ts';
import { laterWords } from '../../core/rehearse/moments.ts';
import { gateUrl, inHalves } from '../../core/rehearse/halves.ts';
import { weaken } from '../../core/rehearse/weaken.ts';
import { broughtBy } from '../../core/path/brought-by.ts';
import { applyPlan, type TreatedPage } from '../../core/treat/apply.ts';
import { activeRules, matchName, type Plan, type PlanRule } from '../../core/treat/plan.ts';
import { ownFileRefusal } from '../../core/treat/policy.ts';
import type { EvidencePictures, Exception, FoundSoFar, Rehearsal } from '../../core/rehearse/rehearsal.ts';
import type { Scene } from '../../core/treat/treatment.ts';
import { treatmentOf } from '../../core/treat/treatments/index.ts';
import { stopIfCancelled } from '../errors.ts';
import { drawDifference } from '../fold/pictures.ts';
import { overridesOf } from '../replay/overrides.ts';
import { Beside, type Arm, type Setting, type Told } from './beside.ts';
import type { StageRequest } from './rehearsal-stage.ts';
import { deedSettings, DEVICES, earlySettings, orderSettings, ownSettings, type Device } from './settings.ts';
import { StagePool } from './stage-pool.ts';

export interface RehearsalRequest {
  capture: Capture;
  bodies: Bodies;
  state: VisitState | null;
  scene: Scene;
  plan: Plan;
  /** What the developer wrote down that the page does. */
  checks: readonly OwnCheck[];
  /** What other pages' captures answer, for what is asked for ahead. */
  answers?: readonly NextAnswer[];
  /** What it is held on; on a phone, a laptop and a tablet where this is not said. */
  devices?: readonly Device[];
  /** What was found before it was broken off: it goes on from there. */
  before?: FoundSoFar;
  /** Told what is left of the plan each time something was excepted. */
  onFound?: (found: FoundSoFar) => void;
  /** Told of each rule at fault what shows it. */
  onEvidence?: (pictures: EvidencePictures) => void;
  onProgress?: (step: string, done: number, of: number) => void;
  signal?: AbortSignal;
}

interface Fault {
  setting: Setting;
  differences: Difference[];
}

/** Beyond this no more orders are begun; what is left of a plan after its last exception is given some time all the same. */
const LIMIT_MS = 240_000;
const LEAST_FOR_THE_LAST_MS = 40_000;
/** Beyond this no fault is looked for any more: a plan that still shows one is not recommended. */
const GIVE_UP_MS = 280_000;
/** As many orders are gone through at a time: each loads the page twice, and there are four browsers for them. */
const AT_A_TIME = 3;
const MOST_EXCEPTIONS = 8;

/**
 * Loads the captured page with a plan beside the page as authored, unslowed and without input, in the same orders of
 * arrival, and excepts the rules at fault where the page becomes something else.
 */
export async function rehearse(request: RehearsalRequest): Promise<Rehearsal> {
  const pool = await StagePool.open();
  try {
    return await rehearseOn(pool, request);
  } finally {
    await pool.close();
  }
}

/** The same, on stages that are open already. */
export function rehearseOn(pool: StagePool, request: RehearsalRequest): Promise<Rehearsal> {
  return new Rehearsing(request, pool).run();
}

class Rehearsing {
  #request: RehearsalRequest;
  #pool: StagePool;
  #beside: Beside;
  #orders: readonly Setting[];
  #exceptions: Exception[] = [];
  /** How often a rule was found at fault. */
  #excepted = 0;
  #gaveUp = false;
  #began = performance.now();
  #ends = this.#began + LIMIT_MS;

  constructor(request: RehearsalRequest, pool: StagePool) {
    this.#request = request;
    this.#pool = pool;
    this.#orders = ordersOf(request);
    const authored = this.#armOf({ ...request.plan, rules: [] });
    const wakes = uses(request.plan, 'near-view');
    this.#beside = new Beside(pageOf(request), pool, authored, this.#orders, wakes);
  }

  async run(): Promise<Rehearsal> {
    let plan = this.#planBefore();
    const deeds = activeRules(plan).length ? await this.#deedsWhileBeginning() : [];
    const [first, ...others] = this.#orders;
    // What shows most comes first.
    const settings = [first!, ...deeds, ...others];
    await this.#showAgain(settings);
    let held: readonly Setting[] = [];
    while (activeRules(plan).length) {
      const failed = await this.#hold(plan, settings);
      held = failed.held;
      if (failed.first === null) break;
      // The order that shows a fault is held to until it shows none; then all of them are again.
      for (let fault: Fault | null = failed.first; fault && activeRules(plan).length;) {
        plan = await this.#without(plan, fault);
        if (!this.#gaveUp) this.#request.onFound?.({ plan, exceptions: [...this.#exceptions] });
        fault = (await this.#hold(plan, [fault.setting])).first;
      }
      if (this.#gaveUp) held = [];
      this.#ends = Math.max(this.#ends, performance.now() + LEAST_FOR_THE_LAST_MS);
    }
    return {
      plan,
      exceptions: this.#exceptions,
      gaveUp: this.#gaveUp,
      held: held.filter((one) => this.#orders.includes(one)).length,
      left: this.#orders.filter((one) => !held.includes(one)).map(({ words }) => words),
      deeds: this.#gaveUp ? [] : await this.#checks(deeds, held),
      masked: await this.#masked(),
      byItself: [...new Set(await this.#beside.byItself())],
      races: await this.#races(),
      later: await this.#later(plan),
    };
  }

  /** What is left of the plan after what was found before; all of it where that is nothing. */
  #planBefore(): Plan {
    const { plan, before } = this.#request;
    if (!before) return plan;
    this.#exceptions = [...before.exceptions];
    this.#excepted = before.exceptions.length;
    return before.plan;
  }

  /** Shows once more what was found before: its pictures went with what broke off. */
  async #showAgain(settings: readonly Setting[]): Promise<void> {
    const { plan, before, onEvidence } = this.#request;
    if (!onEvidence) return;
    for (const { ruleId, evidence } of before?.exceptions ?? []) {
      const rule = plan.rules.find((one) => one.id === ruleId);
      const setting = settings.find(({ words }) => evidence.endsWith(`(${words}).`));
      if (rule && setting) await this.#show(rule, plan, setting);
    }
  }

  /** Holds the page with a plan to the page as authored, in each order that there is time for, until one shows a fault. */
  async #hold(plan: Plan, settings: readonly Setting[]): Promise<{ held: Setting[]; first: Fault | null }> {
    const held: Setting[] = [];
    const waiting = [...settings];
    const faults: Fault[] = [];
    const goThrough = async () => {
      while (faults.length === 0 && (performance.now() < this.#ends || settings.length === 1)) {
        const setting = waiting.shift();
        if (!setting) return;
        const differences = await this.#differences(plan, setting);
        if (differences.length) {
          faults.push({ setting, differences });
          return;
        }
        held.push(setting);
        this.#request.onProgress?.(`Rehearsed ${setting.words}`, held.length, settings.length);
      }
    };
    await Promise.all(Array.from({ length: AT_A_TIME }, goThrough));
    // Which of several came first is chance.
    const first = settings.flatMap((one) => faults.find(({ setting }) => setting === one) ?? [])[0];
    return { held, first: first ?? null };
  }

  /** A plan without the rule that is at fault, or with less done by it. */
  async #without(plan: Plan, { setting, differences }: Fault): Promise<Plan> {
    const rules = activeRules(plan);
    if (performance.now() - this.#began > GIVE_UP_MS) return this.#giveUp(plan);
    const suspects = rules.filter((one) => /^(delay|near-view)$/.test(one.treatment));
    const rule = await findFault(rules, suspects.slice(0, AT_A_TIME), async (some) => {
      const part = { ...plan, rules: [...some] };
      return (await this.#differences(part, setting)).length > 0;
    });
    // What no rule shows by itself, and all of them no longer, was chance.
    if (!rule && (await this.#differences(plan, setting)).length === 0) return plan;
    if (!rule || this.#excepted >= MOST_EXCEPTIONS) return this.#giveUp(plan);
    this.#excepted++;
    // Together with others it may show something else than by itself.
    const alone = await this.#differences({ ...plan, rules: [rule] }, setting);
    const evidence = `As treated, the page ${(alone[0] ?? differences[0]!).words} (${setting.words}).`;
    if (this.#request.onEvidence) await this.#show(rule, plan, setting);
    const along = await this.#alongWith(rule, plan, setting);
    const without = this.#weakened(plan, rule, evidence);
    const why = `Along with ${matchName(rule.match)}, which is alike. ${evidence}`;
    return along.reduce((before, one) => this.#weakened(before, one, why), without);
  }

  /**
   * What is excepted with a rule: images that are laid out alike are so by the dozen, and one by one takes too long. None
   * where the page holds without that one rule.
   */
  async #alongWith(rule: PlanRule, plan: Plan, setting: Setting): Promise<readonly PlanRule[]> {
    const rules = activeRules(plan);
    const alike = alikeTo(rule, rules);
    if (alike.length === 0) return [];
    const others = { ...plan, rules: rules.filter((one) => one !== rule) };
    return (await this.#differences(others, setting)).length === 0 ? [] : alike;
  }

  /** Shows what a rule does to the page; without pictures its words still stand. */
  async #show(rule: PlanRule, plan: Plan, setting: Setting): Promise<void> {
    try {
      const arm = this.#armOf({ ...plan, rules: [rule] });
      const both = await this.#beside.pictures(arm, setting);
      const difference = await drawDifference(both.authored, both.treated);
      this.#request.onEvidence?.({ ruleId: rule.id, ...both, difference });
    } catch {
      stopIfCancelled(this.#request.signal);
    }
  }

  #weakened(plan: Plan, rule: PlanRule, evidence: string): Plan {
    const weaker = weaken(this.#request.scene, plan, rule, evidence);
    const becomes = weaker.rules.find((one) => one.id === rule.id)!.treatment;
    this.#exceptions.push({ ruleId: rule.id, treatment: rule.treatment, becomes, evidence });
    return weaker;
  }

  #giveUp(plan: Plan): Plan {
    this.#gaveUp = true;
    return { ...plan, rules: plan.rules.map((one) => ({ ...one, on: false })) };
  }

  #differences(plan: Plan, setting: Setting): Promise<Difference[]> {
    return this.#beside.differences(this.#armOf(plan), setting);
  }

  #armOf(plan: Plan): Arm {
    const { capture, scene, answers } = this.#request;
    const treated = applyPlan(scene, plan);
    return {
      overrides: overridesOf(capture.documentUrl, treated, answers),
      takesOut: takenOutBy(scene, treated),
    };
  }

  /** What may be done on the page. In the meantime it is loaded as authored, in all ways that it is held to. */
  async #deedsWhileBeginning(): Promise<Setting[]> {
    const finding = this.#deeds();
    this.#beside.begin(this.#orders);
    const deeds = await finding;
    // No more of them than there is time for while the page is watched: a heavy page's time may not suffice for all.
    this.#beside.begin(deeds.slice(0, 2 * AT_A_TIME));
    return deeds;
  }

  async #deeds(): Promise<Setting[]> {
    const { devices = DEVICES } = this.#request;
    const authored = this.#armOf({ ...this.#request.plan, rules: [] });
    const atRest = await deedSettings(this.#pool, pageOf(this.#request), authored, devices);
    const { plan } = this.#request;
    const scripts = activeRules(plan).some((rule) => rule.kind === 'script');
    return [
      ...ownSettings(this.#request.checks, devices),
      ...(scripts ? earlySettings(atRest, touchedBy(this.#request)) : []),
      ...atRest,
    ];
  }

  /** What came of what was done, in the order it was tried. */
  async #checks(deeds: readonly Setting[], held: readonly Setting[]): Promise<PageCheck[]> {
    const tried = deeds.filter((setting) => !held.includes(setting) || this.#beside.wasInTime(setting));
    const told = await Promise.all(
      tried.map(async (setting) => ({
        setting,
        told: held.includes(setting) ? await this.#beside.told(setting) : null,
      })),
    );
    const holding = new Set(
      told.flatMap(({ setting: { deed }, told }) =>
        deed.kind === 'own' && told?.failed === null ? [deed.check.text] : [],
      ),
    );
    return told.map(({ setting, told }) => checkOf(setting, told, holding));
  }

  /** What the plan makes come later, on either device. */
  async #later(plan: Plan): Promise<string[]> {
    if (this.#gaveUp || activeRules(plan).length === 0) return [];
    const { devices = DEVICES } = this.#request;
    const arm = this.#armOf(plan);
    const tried = devices.filter(({ isTried }) => isTried);
    const found = await Promise.all(tried.map(({ device }) => this.#beside.later(arm, device)));
    return laterWords(found.flat());
  }

  async #races(): Promise<string[]> {
    const masks = await this.#beside.masks();
    const found = masks.flatMap(({ before, after }) => [
      ...[...before.loose, ...after.loose].map((one) => one.replace(/\|(.+)/, ' “$1”').replace('|', '')),
    ]);
    return [...new Set(found)];
  }

  async #masked(): Promise<string[]> {
    const masks = await this.#beside.masks();
    const found = masks.flatMap(({ before, after, picture }) => [
      ...[...before.elements, ...after.elements].slice(0, 3).map((one) => one.split('|')[0]!),
      ...(picture ? ['the picture of the fold'] : []),
    ]);
    return [...new Set(found)];
  }
}

/** Other images with the same treatment. */
function alikeTo(rule: PlanRule, rules: readonly PlanRule[]): readonly PlanRule[] {
  if (rule.kind !== 'image' && rule.kind !== 'image-file') return [];
  return rules.filter((one) => one !== rule && one.kind === rule.kind && one.treatment === rule.treatment);
}

/** @param holding the developer's checks that hold as authored somewhere: a menu may be there on a phone only */
function checkOf({ words, deed }: Setting, told: Told | null, holding: ReadonlySet<string>): PageCheck {
  const own = deed.kind === 'own' ? { own: deed.check.text } : {};
  if (!told) return { words, effect: '', undecided: 'there was no time to try it', ...own };
  const { failed, effect, undecided } = told;
  if (failed === null || deed.kind !== 'own') return { words, effect, undecided, ...own };
  return holding.has(deed.check.text)
    ? { words, effect: `it does not hold here: ${failed}`, undecided, ...own }
    : { words, effect, undecided: `as authored it does not hold either: ${failed}`, ...own };
}

/** Requests that a treated page no longer makes, with what those made it ask for. */
function takenOutBy({ page }: Scene, { takenOut }: TreatedPage): string[] {
  return takenOut.flatMap((url) => [url, ...broughtBy(page.requests, url)]).map((url) => `GET ${url}`);
}

function pageOf({ capture, bodies, state, signal }: RehearsalRequest): StageRequest {
  return { capture, bodies, state, ...(signal ? { signal } : {}) };
}

function uses(plan: Plan, treatment: string): boolean {
  return activeRules(plan).some((rule) => rule.treatment === treatment);
}

/** The orders in which a page with a plan is loaded. */
function ordersOf(request: RehearsalRequest): Setting[] {
  const waits = uses(request.plan, 'delay') || uses(request.plan, 'near-view');
  const touched = touchedBy(request);
  const gate = touched.length ? gateFor(request) : null;
  return orderSettings(pageOf(request), touched, waits, gate, request.devices);
}

/** A file that the page may stop for in its middle; null where its policies or its markup have no room for one. */
function gateFor({ scene: { page } }: RehearsalRequest): string | null {
  const gate = gateUrl(page.documentUrl);
  if (ownFileRefusal(page, 'script', null) || !inHalves(page.document.bytes, gate)) return null;
  return gate;
}

/** Addresses of the files that a plan touches or adds. */
function touchedBy({ scene, plan }: RehearsalRequest): string[] {
  const touched = activeRules(plan).flatMap(({ kind, match, treatment }) =>
    (kind === 'script' || kind === 'stylesheet') &&
    'url' in match &&
    !treatmentOf(kind, treatment)?.onlySooner
      ? [match.url]
      : [],
  );
  const added = applyPlan(scene, plan).files.flatMap(({ isNew, url }) => (isNew ? [url] : []));
  return [...touched, ...added];
}
