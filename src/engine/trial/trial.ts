import type { Rehearsal } from '../../core/rehearse/rehearsal.ts';
import type { Conditions } from '../../core/measure/conditions.ts';
import type { Bodies, Capture } from '../../core/measure/exchange.ts';
import type { Metrics, MetricSpreads } from '../../core/measure/metrics.ts';
import type { Frame } from '../../core/measure/run.ts';
import type { VisitKind, VisitState } from '../../core/measure/visit.ts';
import type { Yardstick } from '../../core/measure/yardstick.ts';
import type { ArmId } from '../../core/trial/arms.ts';
import type { MoreArms } from '../../core/trial/more-arms.ts';
import type { WhatIsLeft } from '../../core/trial/what-is-left.ts';
import type { PairsWish } from '../../core/trial/looks.ts';
import type { NextAnswer } from '../../core/next/next-assets.ts';
import type { TrialChecks, TrialResult } from '../../core/trial/verdict.ts';
import type { PlanRule } from '../../core/treat/plan.ts';
import type { TreatedPage } from '../../core/treat/apply.ts';
import type { BilledPage } from './bills.ts';
import type { LoadLimits } from '../chromium/visit.ts';

export interface TrialRequest {
  capture: Capture;
  bodies: Bodies;
  state: VisitState | null;
  yardstick: Yardstick | null;
  /** The page with an empty plan, or another one that it is held against: it takes the same way as the treated one. */
  asIs: TreatedPage;
  /** Whether that is the page as it is. */
  isAsIs: boolean;
  treated: TreatedPage;
  /** Treats the page with some of the plan's rules, where the one that breaks it is wanted; else null. */
  parts: PlanParts | null;
  /** What other pages' captures answer, for what is asked for ahead. */
  answers: readonly NextAnswer[];
  conditions: Conditions;
  pairs: PairsWish;
  /** What rehearsing this very plan has shown; null where that was not done. */
  rehearsal: Rehearsal | null;
  pageName: string;
  /** What the bills of the shown pair's loads are read with; null where they are not wanted. */
  billed: BilledPage | null;
  /** Whether a plan that is earlier is held on the other kind of device as well. */
  bothDevices: boolean;
  /** Which visit is timed: on a return visit every load is of a page that was visited just before. */
  visit: VisitKind;
  /** Whether some pairs of first visits are gone back to, with what those left in the cache. */
  returnVisits: boolean;
  /** Whether taps are tried in both arms, and what answers them is timed. */
  taps: boolean;
  /** What else is loaded in the same rounds, and held against these two. */
  beside: readonly PageBeside[];
  seed?: number;
  limits?: LoadLimits;
  onProgress?: (step: string, done: number, of: number) => void;
  signal?: AbortSignal;
}

/** Treats the page with some of a plan's rules. */
export interface PlanParts {
  rules: readonly PlanRule[];
  treatedWith: (rules: readonly PlanRule[]) => TreatedPage;
}

/** An arm besides the two that are judged. */
export interface PageBeside {
  id: ArmId;
  page: Pick<TreatedPage, 'html' | 'files' | 'notApplied'>;
}

export interface TrialArm {
  id: ArmId;
  metrics: Metrics[];
  spreads: MetricSpreads;
  /** Those of the shown pair. */
  frames: Frame[];
  finalPicture: Uint8Array | null;
  consoleErrors: string[];
}

export interface Trial {
  takenAt: string;
  conditions: Conditions;
  visit: VisitKind;
  arms: [TrialArm, TrialArm];
  /** Which pair's frames and curves are shown: the one whose difference is the median. */
  shownPair: number;
  /** How many pairs were asked for. */
  wish: PairsWish;
  result: TrialResult;
  checks: TrialChecks;
  /** What further arms came to, and every two against each other; null where there were none. */
  moreArms: MoreArms | null;
  /** What the treated paint still waits for; null where no pair shows the paint. */
  left: WhatIsLeft | null;
  pictureDifference: Uint8Array | null;
  windowMs: number;
  seed: number;
  /** In which order the arms of each pair ran. */
  order: (readonly ArmId[])[];
  yardstick: Yardstick;
  /** Why pairs were made again, and whether some had to be kept although the rule rejects them. */
  quality: { rejected: string[]; tooBusy: boolean };
}
