import { A_KEY, chooseDeeds, deedWords, earlyDeeds, NOTHING } from '../../core/checks/deed.ts';
import type { OwnCheck } from '../../core/checks/own-check.ts';
import { BUILT_IN_CONDITIONS } from '../../core/measure/conditions.ts';
import { arrivalOrders, AS_RECORDED, touchedLast, type ArrivalOrder } from '../../core/rehearse/arrival.ts';
import type { VisitDevice } from '../chromium/visit.ts';
import type { Arm, Setting } from './beside.ts';
import type { StageRequest } from './rehearsal-stage.ts';
import type { StagePool } from './stage-pool.ts';

/** What a page is rehearsed on, and as what a person would say it. */
export interface Device {
  device: VisitDevice;
  words: string;
  /** In which orders of arrival it is loaded: all, the two plainest, or as recorded alone. */
  orders: 'all' | 'plainest' | 'recorded';
  /** Whether things are done on it as a visitor would, besides scrolling. */
  isTried: boolean;
}

const deviceOf = (id: string): VisitDevice => BUILT_IN_CONDITIONS.find((one) => one.id === id)!;

export const PHONE: Device = {
  device: deviceOf('slow-phone'),
  words: 'on a phone',
  orders: 'all',
  isTried: true,
};
const LAPTOP: Device = {
  device: deviceOf('home-laptop'),
  words: 'on a laptop',
  orders: 'plainest',
  isTried: true,
};
/** Its layout may be a third one: it is looked at as it comes, and scrolled through. */
export const TABLET: Device = {
  device: { viewport: { width: 820, height: 1_180 }, pixelRatio: 2, touch: true, agent: 'phone' },
  words: 'on a tablet',
  orders: 'recorded',
  isTried: false,
};
export const DEVICES = [PHONE, LAPTOP, TABLET] as const;

const IN_ORDERS: Readonly<Record<Device['orders'], (order: ArrivalOrder) => boolean>> = {
  all: () => true,
  plainest: ({ id }) => /^(recorded|reversed)$/.test(id),
  recorded: ({ id }) => id === AS_RECORDED.id,
};

const MOST_HOSTS = 5;

/**
 * The orders in which a page is loaded: all of them on a phone, the plainest on what else it is loaded on.
 *
 * @param touched addresses of what a plan touches or adds
 * @param waits whether something waits for a visitor: it has run once a key was pressed
 * @param gate address of a file that the page may stop for in its middle; null where it cannot
 */
export function orderSettings(
  { capture }: StageRequest,
  touched: readonly string[],
  waits: boolean,
  gate: string | null = null,
  devices: readonly Device[] = DEVICES,
): Setting[] {
  const own = new URL(capture.documentUrl).hostname;
  const hosts = [...new Set(capture.exchanges.map((one) => new URL(one.url).hostname))]
    .filter((host) => host !== own)
    .slice(0, MOST_HOSTS);
  const all = arrivalOrders(touched, hosts, gate);
  return devices.flatMap(({ device, words, orders }) =>
    all.filter(IN_ORDERS[orders]).map((order) => ({
      device,
      order,
      deed: waits ? A_KEY : NOTHING,
      words: `${words}, ${order.words}`,
    })),
  );
}

/** What a visitor may do on the page as authored, each in a load of its own. */
export async function deedSettings(
  pool: StagePool,
  page: StageRequest,
  { overrides }: Arm,
  devices: readonly Device[],
): Promise<Setting[]> {
  const found = await Promise.all(
    devices.map(async ({ device, words, isTried }) => {
      const possible = isTried
        ? await pool.on((stage) =>
            stage.load(page, overrides, AS_RECORDED, device, {
              act: (visit) => visit.inPage.call('possibleDeeds'),
            }),
          )
        : [];
      return [{ kind: 'scroll' } as const, ...chooseDeeds(possible, device.touch)].map((deed) => ({
        device,
        order: AS_RECORDED,
        deed,
        words: `${words}, ${deedWords(deed)}`,
      }));
    }),
  );
  return found.flat();
}

/** What the developer wrote down, on each device that things are done on. */
export function ownSettings(checks: readonly OwnCheck[], devices: readonly Device[]): Setting[] {
  return checks.flatMap((check) =>
    devices
      .filter(({ isTried }) => isTried)
      .map(({ device, words }) => {
        const deed = { kind: 'own', check } as const;
        return { device, order: AS_RECORDED, deed, words: `${words}, ${deedWords(deed)}` };
      }),
  );
}

/**
 * What an impatient visitor taps and types on a phone while what the plan touches is still on its way. As authored most of it is
 * not to be seen until then: there it is done at rest.
 *
 * @param deeds what is done at rest
 * @param touched addresses of what a plan touches or adds; without any there is nothing to be early for
 */
export function earlySettings(deeds: readonly Setting[], touched: readonly string[]): Setting[] {
  if (touched.length === 0) return [];
  const { device, words } = PHONE;
  const order = touchedLast(touched);
  const onPhone = deeds.filter((one) => one.device === device).map(({ deed }) => deed);
  return earlyDeeds(onPhone).map((deed) => ({ device, order, deed, words: `${words}, ${deedWords(deed)}` }));
}
