import type { CDPSession } from 'puppeteer-core';
import { BUILT_IN_CONDITIONS } from '../../core/measure/conditions.ts';
import type { Bodies, Capture } from '../../core/measure/exchange.ts';
import type { VisitState } from '../../core/measure/visit.ts';
import { arrivalOrders, AS_RECORDED, type ArrivalOrder } from '../../core/rehearse/arrival.ts';
import { findFault } from '../../core/rehearse/find-fault.ts';
import {
  differencesBetween,
  joined,
  maskOf,
  NO_MASK,
  withRaces,
  type Difference,
  type Mask,
} from '../../core/rehearse/outcome.ts';
import { weaken } from '../../core/rehearse/weaken.ts';
import { broughtBy } from '../../core/path/brought-by.ts';
import { applyPlan } from '../../core/treat/apply.ts';
import { activeRules, type Plan } from '../../core/treat/plan.ts';
import type { Exception, Rehearsal } from '../../core/rehearse/rehearsal.ts';
import type { Scene } from '../../core/treat/treatment.ts';
import type { VisitDevice } from '../chromium/visit.ts';
import { stopIfCancelled } from '../errors.ts';
import { comparePictures } from '../fold/pictures.ts';
import { overridesOf } from '../replay/overrides.ts';
import type { NamedElement } from '../../in-page/index.ts';
import { look, type Look } from './look.ts';
import { StagePool } from './stage-pool.ts';

export interface RehearsalRequest {
  capture: Capture;
  bodies: Bodies;
  state: VisitState | null;
  scene: Scene;
  plan: Plan;
  onProgress?: (step: string, done: number, of: number) => void;
  signal?: AbortSignal;
}

/** One way of loading the page. */
interface Setting {
  device: VisitDevice;
  order: ArrivalOrder;
  /** A control that is tapped once the page rests; nothing but a key is pressed where there is none. */
  tap: NamedElement | null;
  words: string;
}

/** What is held against nothing, before any input and after the first touch. */
interface DeviceMask {
  before: Mask;
  after: Mask;
  picture: boolean;
}

interface Fault {
  setting: Setting;
  differences: Difference[];
}

const DEVICES: readonly [id: string, words: string][] = [
  ['slow-phone', 'on a phone'],
  ['home-laptop', 'on a laptop'],
];
/** Beyond this no more orders are begun; what is left of a plan after its last exception is given some time all the same. */
const LIMIT_MS = 90_000;
const LEAST_FOR_THE_LAST_MS = 40_000;
/** Beyond this no fault is looked for any more: a plan that still shows one is not recommended. */
const GIVE_UP_MS = 180_000;
/** As many orders are gone through at a time: each loads the page twice, and there are three browsers. */
const AT_A_TIME = 3;
/** Less of the fold's picture may differ: a letter's edge. */
const PICTURE_SHARE = 0.0005;
const MOST_EXCEPTIONS = 8;
const MOST_HOSTS = 5;
const MOST_TAPS = 3;

/**
 * Loads the captured page with a plan beside the page as authored, unslowed and without input, in the same orders of
 * arrival, and excepts the rules at fault where the page becomes something else.
 */
export function rehearse(request: RehearsalRequest): Promise<Rehearsal> {
  return StagePool.with((pool) => new Rehearsing(request, pool).run());
}

class Rehearsing {
  #request: RehearsalRequest;
  #pool: StagePool;
  #orders: readonly Setting[];
  /** The orders, and where something waits for a touch, the taps. */
  #settings: readonly Setting[];
  /** Whether something waits for a touch. */
  #waits: boolean;
  #authored = new Map<string, Promise<Look>>();
  #masks = new Map<string, Promise<DeviceMask>>();
  #exceptions: Exception[] = [];
  #gaveUp = false;
  #began = performance.now();
  #ends = this.#began + LIMIT_MS;

  constructor(request: RehearsalRequest, pool: StagePool) {
    this.#request = request;
    this.#pool = pool;
    this.#orders = settingsOf(request);
    this.#settings = this.#orders;
    this.#waits = activeRules(request.plan).some((rule) => rule.treatment === 'delay');
  }

  async run(): Promise<Rehearsal> {
    let { plan } = this.#request;
    const taps = this.#waits ? await this.#taps() : [];
    let held: readonly Setting[] = [];
    while (activeRules(plan).length) {
      const waits = activeRules(plan).some((rule) => rule.treatment === 'delay');
      const [first, ...others] = this.#orders;
      // What shows most comes first.
      this.#settings = [first!, ...(waits ? taps : []), ...others];
      const failed = await this.#hold(plan, this.#settings);
      held = failed.held;
      if (failed.first === null) break;
      // The order that shows a fault is held to until it shows none; then all of them are again.
      for (let fault: Fault | null = failed.first; fault && activeRules(plan).length;) {
        plan = await this.#without(plan, fault);
        fault = (await this.#hold(plan, [fault.setting])).first;
      }
      if (this.#gaveUp) held = [];
      this.#ends = Math.max(this.#ends, performance.now() + LEAST_FOR_THE_LAST_MS);
    }
    return {
      plan,
      exceptions: this.#exceptions,
      gaveUp: this.#gaveUp,
      held: held.length,
      left: this.#settings.filter((one) => !held.includes(one)).map(({ words }) => words),
      masked: await this.#masked(),
      races: await this.#races(),
    };
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
    const suspects = rules.filter((one) => one.treatment === 'delay');
    const rule = await findFault(rules, suspects.slice(0, AT_A_TIME), async (some) => {
      const part = { ...plan, rules: [...some] };
      return (await this.#differences(part, setting)).length > 0;
    });
    if (!rule || this.#exceptions.length >= MOST_EXCEPTIONS) return this.#giveUp(plan);
    // Together with others it may show something else than by itself.
    const alone = await this.#differences({ ...plan, rules: [rule] }, setting);
    const evidence = `As treated, the page ${(alone[0] ?? differences[0]!).words} (${setting.words}).`;
    const weaker = weaken(this.#request.scene, plan, rule, evidence);
    const becomes = weaker.rules.find((one) => one.id === rule.id)!.treatment;
    this.#exceptions.push({ ruleId: rule.id, treatment: rule.treatment, becomes, evidence });
    return weaker;
  }

  #giveUp(plan: Plan): Plan {
    this.#gaveUp = true;
    return { ...plan, rules: plan.rules.map((one) => ({ ...one, on: false })) };
  }

  /** In what the page with a plan is neither what it is as authored in this order, nor as recorded. */
  async #differences(plan: Plan, setting: Setting): Promise<Difference[]> {
    stopIfCancelled(this.#request.signal);
    const gone = this.#takenOutBy(plan);
    const mask = await this.#mask(setting);
    const [treated, authored] = await Promise.all([this.#look(plan, setting), this.#authoredLook(setting)]);
    if ((await this.#against(setting, authored, treated, without(mask, gone))).length === 0) return [];
    // A page that moves by itself differs by chance: both are loaded once more before anything is held against a rule.
    const [again, anew] = await Promise.all([this.#look(plan, setting), this.#look(null, setting)]);
    const wider: DeviceMask = {
      before: joined(mask.before, maskOf(authored.before, anew.before)),
      after:
        authored.after && anew.after ? joined(mask.after, maskOf(authored.after, anew.after)) : mask.after,
      picture: mask.picture || (await comparePictures(authored.picture, anew.picture)).share > PICTURE_SHARE,
    };
    // Another order may have found something else that moves in the meantime.
    const known = await this.#mask(setting);
    const all: DeviceMask = {
      before: joined(known.before, wider.before),
      after: joined(known.after, wider.after),
      picture: known.picture || wider.picture,
    };
    this.#masks.set(maskKey(setting), Promise.resolve(all));
    const held = without(wider, gone);
    if ((await this.#against(setting, authored, treated, held)).length === 0) return [];
    return this.#against(setting, anew, again, held);
  }

  /** Requests that a plan takes out of the page, with what those made it ask for. */
  #takenOutBy(plan: Plan): string[] {
    const { scene } = this.#request;
    const { takenOut } = applyPlan(scene, plan);
    return takenOut
      .flatMap((url) => [url, ...broughtBy(scene.page.requests, url)])
      .map((url) => `GET ${url}`);
  }

  /** In what a page as treated is neither what it is as authored, nor that as recorded. */
  async #against(setting: Setting, authored: Look, treated: Look, mask: DeviceMask): Promise<Difference[]> {
    const differences = await compare(authored, treated, mask);
    if (differences.length === 0 || setting.order.failing) return differences;
    const recorded = await this.#authoredLook({ ...setting, order: AS_RECORDED });
    return (await compare(recorded, treated, mask)).length === 0 ? [] : differences;
  }

  #mask(setting: Setting): Promise<DeviceMask> {
    const key = maskKey(setting);
    let mask = this.#masks.get(key);
    if (!mask) this.#masks.set(key, (mask = this.#findMask(setting)));
    return mask;
  }

  /** What the page as authored is not twice, and what of it depends on the order of arrival. */
  async #findMask({ device, tap }: Setting): Promise<DeviceMask> {
    const setting = { device, order: AS_RECORDED, tap, words: '' };
    const orders = tap ? [] : this.#orders.filter((one) => one.device === device && !one.order.failing);
    // What scripts race for is raced for with a tap as well.
    const untouched = tap && (await this.#mask({ ...setting, tap: null }));
    const [one, other, ...others] = await Promise.all([
      this.#authoredLook(setting),
      this.#look(null, setting),
      ...orders.map((each) => this.#authoredLook(each)),
    ]);
    const twice = (key: 'before' | 'after'): Mask => {
      const [first, second] = [one[key], other[key]];
      if (!first || !second) return NO_MASK;
      const races = withRaces(
        maskOf(first, second),
        first,
        others.flatMap((each) => each[key] ?? []),
      );
      return untouched ? joined(untouched[key], races) : races;
    };
    return {
      before: twice('before'),
      after: twice('after'),
      picture:
        (untouched?.picture ?? false) ||
        (await comparePictures(one.picture, other.picture)).share > PICTURE_SHARE,
    };
  }

  #authoredLook(setting: Setting): Promise<Look> {
    const key = `${maskKey(setting)} ${setting.order.id}`;
    let known = this.#authored.get(key);
    if (!known) this.#authored.set(key, (known = this.#look(null, setting)));
    return known;
  }

  /** @param plan null for the page as authored */
  async #look(plan: Plan | null, { device, order, tap }: Setting): Promise<Look> {
    const { capture, bodies, state, scene, signal } = this.#request;
    const treated = applyPlan(scene, plan ?? { ...this.#request.plan, rules: [] });
    const errors: string[] = [];
    const request = { capture, bodies, state, ...(signal ? { signal } : {}) };
    return this.#pool.on((stage) =>
      stage.load(request, overridesOf(capture.documentUrl, treated), order, device, {
        prepare: (session) => listen(session, errors),
        act: (visit, gates) => look(visit, gates, errors, tap ?? (this.#waits ? 'key' : 'none')),
      }),
    );
  }

  /** What delays hold back must not take the first tap: some controls are tapped, each in a load of its own. */
  async #taps(): Promise<Setting[]> {
    const { capture, bodies, state, scene, plan, signal } = this.#request;
    const device = this.#orders[0]!.device;
    const authored = applyPlan(scene, { ...plan, rules: [] });
    const request = { capture, bodies, state, ...(signal ? { signal } : {}) };
    const controls = await this.#pool.on((stage) =>
      stage.load(request, overridesOf(capture.documentUrl, authored), AS_RECORDED, device, {
        act: (visit) => visit.inPage.call('foldControls'),
      }),
    );
    return controls.slice(0, MOST_TAPS).map((tap) => ({
      device,
      order: AS_RECORDED,
      tap,
      words: `${DEVICES[0]![1]}, ${tap.name} tapped first`,
    }));
  }

  async #races(): Promise<string[]> {
    const masks = await Promise.all(this.#masks.values());
    const found = masks.flatMap(({ before, after }) => [
      ...[...before.loose, ...after.loose].map((one) => one.replace(/\|(.+)/, ' “$1”').replace('|', '')),
    ]);
    return [...new Set(found)];
  }

  async #masked(): Promise<string[]> {
    const masks = await Promise.all(this.#masks.values());
    const found = masks.flatMap(({ before, after, picture }) => [
      ...[...before.elements, ...after.elements].slice(0, 3).map((one) => one.split('|')[0]!),
      ...(picture ? ['the picture of the fold'] : []),
    ]);
    return [...new Set(found)];
  }
}

/** What a plan takes out of the page is not missed. */
function without({ before, after, picture }: DeviceMask, gone: readonly string[]): DeviceMask {
  const less = (mask: Mask): Mask => ({ ...mask, requests: new Set([...mask.requests, ...gone]) });
  return { before: less(before), after: less(after), picture };
}

/** What is masked is so for a device, and for what is tapped. */
function maskKey({ device, tap }: Setting): string {
  return `${device.viewport.width} ${tap ? `${tap.name} ${tap.index}` : ''}`;
}

/** The ways in which the page is loaded: in every order on a phone, in the two plainest on a laptop. */
function settingsOf({ capture, scene, plan }: RehearsalRequest): Setting[] {
  const treated = applyPlan(scene, plan);
  const touched = activeRules(plan).flatMap((rule) =>
    (rule.kind === 'script' || rule.kind === 'stylesheet') && 'url' in rule.match ? [rule.match.url] : [],
  );
  const own = new URL(capture.documentUrl).hostname;
  const hosts = [...new Set(capture.exchanges.map((one) => new URL(one.url).hostname))]
    .filter((host) => host !== own)
    .slice(0, MOST_HOSTS);
  const all = [...touched, ...treated.files.filter((file) => file.isNew).map((file) => file.url)];
  return DEVICES.flatMap(([id, words], index) => {
    const device = BUILT_IN_CONDITIONS.find((one) => one.id === id)!;
    const orders = arrivalOrders(all, hosts);
    return (index === 0 ? orders : orders.filter((one) => /^(recorded|reversed)$/.test(one.id))).map(
      (order) => ({
        device,
        order,
        tap: null,
        words: `${words}, ${order.words}`,
      }),
    );
  });
}

async function compare(authored: Look, treated: Look, mask: DeviceMask): Promise<Difference[]> {
  const found =
    authored.after && treated.after
      ? differencesBetween(authored.after, treated.after, mask.after)
      : differencesBetween(authored.before, treated.before, mask.before);
  if (mask.picture) return found;
  const { share } = await comparePictures(authored.picture, treated.picture);
  return share > PICTURE_SHARE
    ? [
        ...found,
        {
          what: 'picture',
          words: `looks different above the fold before any input (${(share * 100).toFixed(1)} % of it)`,
        },
      ]
    : found;
}

/** Errors of scripts, without addresses and lines: those change by treating. */
async function listen(session: CDPSession, errors: string[]): Promise<void> {
  session.on('Runtime.exceptionThrown', ({ exceptionDetails }) => {
    const text = exceptionDetails.exception?.description?.split('\n')[0] ?? exceptionDetails.text;
    errors.push(text.replace(/https?:\S+/g, '…').replace(/:\d+(:\d+)?/g, ''));
  });
  await session.send('Runtime.enable');
}
