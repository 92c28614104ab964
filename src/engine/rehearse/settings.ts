import { A_KEY, chooseDeeds, deedWords, earlyDeeds, NOTHING } from '../../core/checks/deed.ts';
import type { OwnCheck } from '../../core/checks/own-check.ts';
import { BUILT_IN_CONDITIONS } from '../../core/measure/conditions.ts';
import { arrivalOrders, AS_RECORDED, touchedLast } from '../../core/rehearse/arrival.ts';
import type { VisitDevice } from '../chromium/visit.ts';
import type { Arm, Setting } from './beside.ts';
import type { StageRequest } from './rehearsal-stage.ts';
import type { StagePool } from './stage-pool.ts';

/** What a page is rehearsed on, and as what a person would say it. */
export interface Device {
  device: VisitDevice;
  words: string;
}

const deviceOf = (id: string): VisitDevice => BUILT_IN_CONDITIONS.find((one) => one.id === id)!;

export const PHONE: Device = { device: deviceOf('slow-phone'), words: 'on a phone' };
const LAPTOP: Device = { device: deviceOf('home-laptop'), words: 'on a laptop' };
export const DEVICES = [PHONE, LAPTOP] as const;

const MOST_HOSTS = 5;

/**
 * The orders in which a page is loaded: all of them on a phone, the two plainest on a laptop.
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
  const plainest = all.filter((one) => /^(recorded|reversed)$/.test(one.id));
  return devices.flatMap(({ device, words }) =>
    (device === PHONE.device ? all : plainest).map((order) => ({
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
    devices.map(async ({ device, words }) => {
      const possible = await pool.on((stage) =>
        stage.load(page, overrides, AS_RECORDED, device, {
          act: (visit) => visit.inPage.call('possibleDeeds'),
        }),
      );
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

/** What the developer wrote down, on each device. */
export function ownSettings(checks: readonly OwnCheck[], devices: readonly Device[]): Setting[] {
  return checks.flatMap((check) =>
    devices.map(({ device, words }) => {
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
