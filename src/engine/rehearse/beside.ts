import type { CDPSession } from 'puppeteer-core';
import { deedKey, isEarly, isEarlyClick, NOTHING, type Deed } from '../../core/checks/deed.ts';
import { effectOf, whyUndecided } from '../../core/checks/page-check.ts';
import { AS_RECORDED, type ArrivalOrder } from '../../core/rehearse/arrival.ts';
import { GATE_CODE, inHalves } from '../../core/rehearse/halves.ts';
import { comesLater, type Late } from '../../core/rehearse/moments.ts';
import {
  differencesBetween,
  typedAndLost,
  joined,
  maskOf,
  NO_MASK,
  wasLost,
  withRaces,
  type Difference,
  type Mask,
} from '../../core/rehearse/outcome.ts';
import {
  nameOfSort,
  restlessAreas,
  restlessIn,
  steadied,
  type Restless,
  type RestlessArea,
} from '../../core/rehearse/restless.ts';
import { InPage } from '../chromium/in-page.ts';
import type { VisitDevice } from '../chromium/visit.ts';
import { stopIfCancelled } from '../errors.ts';
import { comparePictures } from '../fold/pictures.ts';
import type { Override } from '../replay/archive.ts';
import { performEarly } from './deeds.ts';
import { look, lookTwice, type Look, type Picture } from './look.ts';
import type { StageRequest } from './rehearsal-stage.ts';
import type { StagePool } from './stage-pool.ts';

/** One way of loading the page, and what is done on it once it rests. */
export interface Setting {
  device: VisitDevice;
  order: ArrivalOrder;
  deed: Deed;
  /** "on a phone, reversed". */
  words: string;
}

/** A page with something done to it: what it is served, and the requests that this takes out ("GET …"). */
export interface Arm {
  overrides: readonly Override[];
  takesOut: readonly string[];
}

/** What is held against nothing, before any input and after what is done. */
export interface DeviceMask {
  before: Mask;
  after: Mask;
  picture: boolean;
}

/** What is held against nothing, as it depends on the order of arrival. */
interface Races {
  before: Mask;
  after: Mask;
}

/** What a page does by itself on a device, while nobody does anything. */
interface Unrest {
  sorts: readonly Restless[];
  /** What came or went by itself. */
  mask: Mask;
}

/** A look without what the page does by itself. */
interface SteadyLook extends Look {
  /** Where its picture shows that, in its own pixels. */
  unsteady: readonly RestlessArea[];
  /** The page with that. */
  raw: Pick<Look, 'before' | 'after'>;
}

/** What something that was done came to as authored. */
export interface Told {
  effect: string;
  /** Why nothing can be said of it; null where something can. */
  undecided: string | null;
  /** Of a check of the developer's, what does not hold; null where all does. */
  failed: string | null;
}

/** Less of a picture may differ: a letter's edge. */
const PICTURE_SHARE = 0.0005;

/** A captured page as authored, and any other held beside it: loaded in the same ways, looked at, and compared. */
export class Beside {
  #page: StageRequest;
  #pool: StagePool;
  #authoredArm: Arm;
  #orders: readonly Setting[];
  #wakes: boolean;
  #authored = new Map<string, Promise<SteadyLook>>();
  #unrest = new Map<VisitDevice, Promise<Unrest>>();
  #masks = new Map<string, Promise<DeviceMask>>();
  #raced: Promise<Races> | null = null;
  /** Of what is done early, by what is masked for it: whether it was there to be done so, in the arm held last. */
  #early = new Map<string, boolean>();

  /**
   * @param orders those in which the page as authored is loaded to see what depends on them
   * @param wakes whether an arm has something that waits until it comes near
   */
  constructor(page: StageRequest, pool: StagePool, authored: Arm, orders: readonly Setting[], wakes = false) {
    this.#page = page;
    this.#pool = pool;
    this.#authoredArm = authored;
    this.#orders = orders;
    this.#wakes = wakes;
  }

  /**
   * Begins what of the page as authored will be wanted for some settings. What is held beside it then finds it there,
   * or waits for it, and is told then what went wrong with it.
   */
  begin(settings: readonly Setting[]): void {
    for (const { device } of settings) void this.#unrestOn(device).catch(() => undefined);
    for (const setting of settings) void this.#authoredLook(setting).catch(() => undefined);
  }

  /** In what an arm is neither what the page as authored is in this order, nor as recorded. */
  async differences(arm: Arm, setting: Setting): Promise<Difference[]> {
    stopIfCancelled(this.#page.signal);
    const { takesOut } = arm;
    const mask = await this.#mask(setting);
    const [treated, authored] = await Promise.all([this.#look(arm, setting), this.#authoredLook(setting)]);
    if ((await this.#against(setting, authored, treated, without(mask, takesOut))).length === 0) return [];
    // A page that moves by itself differs by chance: both are loaded once more before anything is held against a rule.
    const [again, anew] = await Promise.all([
      this.#look(arm, setting),
      this.#look(this.#authoredArm, setting),
    ]);
    const wider: DeviceMask = {
      before: joined(mask.before, maskOf(authored.before, anew.before)),
      after:
        authored.after && anew.after ? joined(mask.after, maskOf(authored.after, anew.after)) : mask.after,
      picture: mask.picture || (await picturesDiffer(authored, anew)) > PICTURE_SHARE,
    };
    // Another order may have found something else that moves in the meantime.
    const known = await this.#mask(setting);
    const all: DeviceMask = {
      before: joined(known.before, wider.before),
      after: joined(known.after, wider.after),
      picture: known.picture || wider.picture,
    };
    this.#masks.set(maskKey(setting), Promise.resolve(all));
    const held = without(wider, takesOut);
    if ((await this.#against(setting, authored, treated, held)).length === 0) return [];
    return this.#against(setting, anew, again, held);
  }

  /** What was done came to as authored, and why nothing can be said of it, where that is so. */
  async told(setting: Setting): Promise<Told> {
    const [{ before, after, unanswered, failed }, mask, untouched] = await Promise.all([
      this.#authoredLook(setting),
      this.#mask(setting),
      // What was done early shows at rest already.
      isEarly(setting.deed) ? this.#authoredLook(this.#plain(setting)) : null,
    ]);
    const effect = after ? effectOf(untouched?.before ?? before, after) : '';
    return {
      effect,
      failed,
      undecided: whyUndecided(after ?? before, (after ? mask.after : mask.before).elements, unanswered),
    };
  }

  /** What both show in a setting. */
  async pictures(arm: Arm, setting: Setting): Promise<Record<'authored' | 'treated', Uint8Array>> {
    const [authored, treated] = await Promise.all([this.#authoredLook(setting), this.#look(arm, setting)]);
    return { authored: authored.picture.png, treated: treated.picture.png };
  }

  /** What comes later in the document with an arm than as authored, in the order of the recording. */
  async later(arm: Arm, device: VisitDevice): Promise<Late[]> {
    const setting = { device, order: AS_RECORDED, deed: NOTHING, words: '' };
    const [authored, treated] = await Promise.all([
      this.#look(this.#authoredArm, setting, { notesMoments: true }),
      this.#look(arm, setting, { notesMoments: true }),
    ]);
    return comesLater(authored.moments, treated.moments, treated.raw.before);
  }

  /** Whether something was done when it was meant to be. What is not there early is done at rest, which says no more. */
  wasInTime(setting: Setting): boolean {
    return !isEarly(setting.deed) || this.#early.get(maskKey(setting)) === true;
  }

  /** All that was held against nothing so far. */
  masks(): Promise<DeviceMask[]> {
    return Promise.all(this.#masks.values());
  }

  /** What the page was seen to change by itself, each sort named: "div.slide". */
  async byItself(): Promise<string[]> {
    const unrest = await Promise.all(this.#unrest.values());
    return unrest.flatMap(({ sorts }) => sorts.map(nameOfSort));
  }

  async #against(
    setting: Setting,
    authored: SteadyLook,
    treated: SteadyLook,
    mask: DeviceMask,
  ): Promise<Difference[]> {
    const differences = await compare(setting, authored, treated, mask);
    if (differences.length === 0 || setting.order.failing || setting.order === AS_RECORDED)
      return differences;
    const recorded = await this.#authoredLook({ ...setting, order: AS_RECORDED });
    if ((await compare(setting, recorded, treated, mask)).length === 0) return [];
    return (await this.#isAnsweredLater(setting, { authored, recorded, treated }, mask)) ? [] : differences;
  }

  /**
   * Whether an early tap or press that the page as authored loses is answered as treated: then the page is what it becomes
   * where it is clicked once more at rest. What the tap did by itself, as a link that leads down the page, it did in both.
   */
  async #isAnsweredLater(
    setting: Setting,
    { authored, recorded, treated }: Record<'authored' | 'recorded' | 'treated', SteadyLook>,
    mask: DeviceMask,
  ): Promise<boolean> {
    if (!isEarlyClick(setting.deed) || !authored.raw.after || !recorded.raw.after) return false;
    const { raw: untouched } = await this.#authoredLook(this.#plain(setting));
    const atRest = { before: recorded.raw.before, after: recorded.raw.after };
    if (!wasLost(untouched.before, authored.raw.after, atRest)) return false;
    const again = await this.#look(this.#authoredArm, setting, { again: true });
    return (await compare(setting, again, treated, mask)).length === 0;
  }

  #mask(setting: Setting): Promise<DeviceMask> {
    const key = maskKey(setting);
    let mask = this.#masks.get(key);
    if (!mask) {
      mask = isPlain(setting.deed) ? this.#findMask(setting) : this.#deedMask(setting);
      this.#masks.set(key, mask);
    }
    return mask;
  }

  /** What the page as authored is not twice, and what of it depends on the order of arrival. */
  async #findMask({ device, deed }: Setting): Promise<DeviceMask> {
    const setting = { device, order: AS_RECORDED, deed, words: '' };
    const [one, other, { mask: byItself }, races] = await Promise.all([
      this.#authoredLook(setting),
      this.#look(this.#authoredArm, setting),
      this.#unrestOn(device),
      this.#races(),
    ]);
    const twice = (key: 'before' | 'after'): Mask => {
      const [first, second] = [one[key], other[key]];
      if (!first || !second) return NO_MASK;
      return joined(joined(maskOf(first, second), byItself), races[key]);
    };
    return {
      before: twice('before'),
      after: twice('after'),
      picture: (await picturesDiffer(one, other)) > PICTURE_SHARE,
    };
  }

  /** What of the page as authored depends on the order of arrival: on whichever device that shows, it is so on all. */
  #races(): Promise<Races> {
    this.#raced ??= this.#findRaces();
    return this.#raced;
  }

  async #findRaces(): Promise<Races> {
    const orders = this.#orders.filter((one) => !one.order.failing);
    const found = await Promise.all(
      orders.map(async (setting): Promise<Races> => {
        const [recorded, other] = await Promise.all([
          this.#authoredLook({ ...setting, order: AS_RECORDED }),
          this.#authoredLook(setting),
        ]);
        const of = (key: 'before' | 'after') => {
          const [one, two] = [recorded[key], other[key]];
          return one && two ? withRaces(NO_MASK, one, [two]) : NO_MASK;
        };
        return { before: of('before'), after: of('after') };
      }),
    );
    return found.reduce(
      (all, { before, after }) => ({ before: joined(all.before, before), after: joined(all.after, after) }),
      { before: NO_MASK, after: NO_MASK },
    );
  }

  /** What is not the same twice without anything done is not so with it either; the rest shows once it differs. */
  async #deedMask(setting: Setting): Promise<DeviceMask> {
    const { before, after, picture } = await this.#mask(this.#plain(setting));
    return { before, after: joined(before, after), picture };
  }

  /** The page as recorded, with nothing done that it could answer. */
  #plain({ device, words }: Setting): Setting {
    const deed = this.#orders.find((one) => one.device === device)?.deed ?? NOTHING;
    return { device, order: AS_RECORDED, deed, words };
  }

  /** What changes on the page as authored while nobody does anything: a slide show, a clock, what comes late. */
  #unrestOn(device: VisitDevice): Promise<Unrest> {
    let known = this.#unrest.get(device);
    if (!known) this.#unrest.set(device, (known = this.#watch(device)));
    return known;
  }

  async #watch(device: VisitDevice): Promise<Unrest> {
    const errors: string[] = [];
    const [first, later] = await this.#pool.apart((stage) =>
      stage.load(this.#page, this.#authoredArm.overrides, AS_RECORDED, device, {
        prepare: (session) => listen(session, errors),
        act: (visit, gates) => lookTwice(visit, gates, errors),
      }),
    );
    const sorts = restlessIn(first, later);
    return { sorts, mask: maskOf(steadied(first, sorts), steadied(later, sorts)) };
  }

  #authoredLook(setting: Setting): Promise<SteadyLook> {
    const key = `${maskKey(setting)} ${setting.order.id}`;
    let known = this.#authored.get(key);
    if (!known) this.#authored.set(key, (known = this.#look(this.#authoredArm, setting)));
    return known;
  }

  /**
   * @param again what was tapped early is clicked once more at rest
   * @param notesMoments what the document holds before it rests is noted
   */
  async #look(arm: Arm, setting: Setting, { again = false, notesMoments = false } = {}): Promise<SteadyLook> {
    const { device, order, deed } = setting;
    const errors: string[] = [];
    const { touch } = device;
    let isDone = false;
    const unrest = this.#unrestOn(device);
    // Where the load itself fails, that is what is told.
    unrest.catch(() => undefined);
    const seen = await this.#pool.on((stage) =>
      stage.load(this.#page, stoppingAt(order.gate, arm.overrides, this.#page), order, device, {
        prepare: async (session) => {
          await listen(session, errors);
          if (notesMoments) await new InPage(session).callFirst('noteMoments');
        },
        early: async (visit) => {
          if (isEarly(deed)) isDone = await performEarly(visit, deed, touch);
        },
        act: (visit, gates) => look(visit, gates, errors, { deed, touch, isDone, again, wakes: this.#wakes }),
      }),
    );
    if (arm !== this.#authoredArm) this.#early.set(maskKey(setting), isDone);
    const { sorts } = await unrest;
    return {
      ...seen,
      before: steadied(seen.before, sorts),
      after: seen.after && steadied(seen.after, sorts),
      unsteady: unsteadyOn(seen.picture, sorts),
      raw: { before: seen.before, after: seen.after },
    };
  }
}

/** What is served where the page stops in its middle for a file. */
function stoppingAt(
  gate: string | undefined,
  overrides: readonly Override[],
  { capture: { documentUrl } }: StageRequest,
): readonly Override[] {
  if (gate === undefined) return overrides;
  return [
    ...overrides.map((one) =>
      one.url === documentUrl ? { ...one, body: inHalves(one.body, gate) ?? one.body } : one,
    ),
    { url: gate, mimeType: 'text/javascript', body: new TextEncoder().encode(GATE_CODE), isNew: true },
  ];
}

/** Nothing is done that the page could answer. */
function isPlain({ kind }: Deed): boolean {
  return kind === 'nothing' || kind === 'key';
}

/** What a plan takes out of the page is not missed. */
function without({ before, after, picture }: DeviceMask, gone: readonly string[]): DeviceMask {
  const less = (mask: Mask): Mask => ({ ...mask, requests: new Set([...mask.requests, ...gone]) });
  return { before: less(before), after: less(after), picture };
}

/** What is masked is so for a device, and for what is done. */
function maskKey({ device, deed }: Setting): string {
  return `${device.viewport.width} ${deedKey(deed)}`;
}

async function compare(
  { deed }: Setting,
  authored: SteadyLook,
  treated: SteadyLook,
  mask: DeviceMask,
): Promise<Difference[]> {
  // What is typed early is heard by nobody yet: but it has to be there.
  if (deed.kind === 'early type' && authored.after && treated.after)
    return typedAndLost(authored.after, treated.after, mask.after);
  const found = [
    ...failedOnlyTreated(deed, authored, treated),
    ...(authored.after && treated.after
      ? differencesBetween(authored.after, treated.after, mask.after)
      : differencesBetween(authored.before, treated.before, mask.before)),
  ];
  if (mask.picture) return found;
  const share = await picturesDiffer(authored, treated);
  if (share <= PICTURE_SHARE) return found;
  const where = isPlain(deed)
    ? 'above the fold before any input'
    : deed.kind === 'scroll'
      ? 'once it was scrolled through'
      : 'then';
  return [
    ...found,
    { what: 'picture', words: `looks different ${where} (${(share * 100).toFixed(1)} % of it)` },
  ];
}

/** What does not hold as authored either says nothing of a rule. */
function failedOnlyTreated(deed: Deed, authored: Look, treated: Look): Difference[] {
  if (deed.kind !== 'own' || authored.failed !== null || treated.failed === null) return [];
  return [{ what: 'own check', words: `does not hold your check: ${treated.failed}` }];
}

/** Where a picture shows what the page does by itself, in its own pixels. */
function unsteadyOn({ of, top, scale }: Picture, sorts: readonly Restless[]): RestlessArea[] {
  return restlessAreas(of, sorts).map((area) => ({
    left: area.left * scale,
    top: (area.top - top) * scale,
    width: area.width * scale,
    height: area.height * scale,
  }));
}

/** How much of the pictures differs, as far down as both reach. */
async function picturesDiffer(one: SteadyLook, other: SteadyLook): Promise<number> {
  const rows = Math.min(one.picture.rows, other.picture.rows);
  const unsteady = [...one.unsteady, ...other.unsteady];
  const soft = other.picture.lighter;
  return (await comparePictures(one.picture.png, other.picture.png, { rows, unsteady, soft })).share;
}

/** Errors of scripts, without addresses and lines: those change by treating. */
async function listen(session: CDPSession, errors: string[]): Promise<void> {
  session.on('Runtime.exceptionThrown', ({ exceptionDetails }) => {
    const text = exceptionDetails.exception?.description?.split('\n')[0] ?? exceptionDetails.text;
    errors.push(text.replace(/https?:\S+/g, '…').replace(/:\d+(:\d+)?/g, ''));
  });
  await session.send('Runtime.enable');
}
