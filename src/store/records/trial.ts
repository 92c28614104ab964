import * as v from 'valibot';
import type { Metrics, MetricSpreads } from '../../core/measure/metrics.ts';
import type { AnyYardstick } from '../../core/measure/yardstick.ts';
import type { ArmId } from '../../core/trial/arms.ts';
import type { PairsWish } from '../../core/trial/looks.ts';
import type { OtherDevice } from '../../core/trial/other-device.ts';
import type { Break, BreakKind } from '../../core/trial/breaks.ts';
import type { TrialChecks, TrialResult } from '../../core/trial/verdict.ts';
import type { MoreArms } from '../../core/trial/more-arms.ts';
import type { WhatIsLeft } from '../../core/trial/what-is-left.ts';
import { isRecord, recordKind } from './record.ts';

/** A trial without its pictures. */
export interface TrialRecord {
  takenAt: string;
  arms: { id: ArmId; metrics: Metrics[]; spreads: MetricSpreads; consoleErrors: string[] }[];
  /** Which pair's frames are kept; null for a trial of before. */
  shownPair: number | null;
  /** How many pairs were asked for. */
  wish: PairsWish;
  result: TrialResult;
  checks: TrialChecks;
  /** What further arms came to; null where there were none. */
  moreArms: MoreArms | null;
  /** What the treated paint still waits for; null for a trial of before. */
  left: WhatIsLeft | null;
  windowMs: number;
  seed: number;
  /** In which order the arms of each pair ran. */
  order: (readonly ArmId[])[];
  yardstick: AnyYardstick;
  /** Why pairs were made again, and whether some had to be kept although the rule rejects them. */
  quality: { rejected: string[]; tooBusy: boolean };
}

/** What broke was told in words alone. */
function brokenOf(result: unknown): { breaks: Break[] } {
  const words = (result as { breaks?: string[] }).breaks ?? [];
  const kindOf = (said: string): BreakKind =>
    said.includes('console')
      ? 'console'
      : said.includes('fail')
        ? 'failed-requests'
        : said.includes('no longer')
          ? 'missing-requests'
          : 'rehearsal';
  return { breaks: words.map((said) => ({ kind: kindOf(said), words: said })) };
}

/** Nothing was done on a page that was rehearsed. */
function withDeeds(checks: unknown): unknown {
  const { rehearsal, ...rest } = checks as Partial<TrialChecks>;
  return { ...rest, rehearsal: rehearsal ? { ...rehearsal, deeds: [] } : null };
}

/** Whether others used the machine then was not noted. */
function withBothWithheld(checks: unknown): unknown {
  const { otherDevice, ...rest } = checks as Partial<TrialChecks>;
  if (!otherDevice) return { ...rest, otherDevice: null };
  const withheld: unknown = otherDevice.withheld;
  const both = isRecord(withheld) ? withheld : { paint: withheld, speedIndex: null };
  const { tooBusy = false } = otherDevice as Partial<OtherDevice>;
  return { ...rest, otherDevice: { ...otherDevice, tooBusy, withheld: both } };
}

export const TRIAL = recordKind<TrialRecord>({
  what: 'A trial',
  todo: 'Hold it again.',
  upgraders: [
    ({ result, checks, ...before }) => ({
      ...before,
      result: { ...(result as object), ...brokenOf(result), undecided: [], remarks: [] },
      checks: withDeeds(checks),
      left: null,
    }),
    // Six pairs were taken, whatever they had shown.
    (before) => ({ ...before, wish: 6 }),
    // What got better was in the table alone.
    ({ result, ...before }) => ({ ...before, result: { ...(result as object), better: [] } }),
    // Nothing was tried on the other kind of device.
    ({ checks, ...before }) => ({ ...before, checks: { ...(checks as object), otherDevice: null } }),
    // Of the other kind of device it was told why its paint was withheld alone; and whether it holds there, twice.
    ({ result, checks, ...before }) => {
      const { otherDevice: _derived, ...judged } = result as Record<string, unknown>;
      return { ...before, result: judged, checks: withBothWithheld(checks) };
    },
    // Nobody came back.
    ({ checks, ...before }) => ({ ...before, checks: { ...(checks as object), returning: null } }),
    // Nobody watched what a touch set off.
    ({ checks, ...before }) => ({ ...before, checks: { ...(checks as object), afterTouch: null } }),
    // Nobody tapped, or held what is shown first against what is there in the end; and there were two arms.
    ({ checks, ...before }) => ({
      ...before,
      checks: { ...(checks as object), firstPicture: null, taps: [] },
      moreArms: null,
    }),
    // Nobody counted what came twice.
    ({ checks, ...before }) => ({ ...before, checks: { ...(checks as object), doubledRequests: [] } }),
    // Nobody looked for the rule that a break comes of.
    ({ checks, ...before }) => ({ ...before, checks: { ...(checks as object), atFault: [] } }),
  ],
  shape: v.looseObject({
    arms: v.array(v.looseObject({ id: v.string(), spreads: v.looseObject({}) })),
    result: v.looseObject({ verdict: v.string(), headline: v.string(), sentence: v.string() }),
    checks: v.looseObject({}),
  }),
});
