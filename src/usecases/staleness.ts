import { changesSince } from '../core/fold/staleness.ts';
import type { Conditions } from '../core/measure/conditions.ts';
import { decisionsMark } from '../core/treat/decisions.ts';
import { CapturedPage } from '../core/page/captured-page.ts';
import { checksTried, whyOnOneDevice, whyOtherBasis } from '../core/trial/staleness.ts';
import { bodyOf, latestCapture } from '../store/captures.ts';
import { conditionsById } from '../store/conditions.ts';
import type { Queries } from '../store/database.ts';
import { ownChecksOf } from '../store/own-checks.ts';
import type { StoredFold, StoredTrial, TrialOnBoard } from '../store/proofs.ts';
import { foldMark, markOf } from './fold-hash.ts';
import { measuredPage, planFor } from './stored-page.ts';

/*
 * What is out of date, and why: every screen asks here. Nothing is told by an empty list.
 */

/** What of the page, as it was captured last, is not what its fold CSS was made from. */
export async function whyFoldStale(queries: Queries, pageId: number, fold: StoredFold): Promise<string[]> {
  const latest = await latestCapture(queries, pageId);
  if (!latest || latest.id === fold.captureId) return [];
  if (!fold.fingerprint) return ['The page was captured again since an earlier version made this set.'];
  const { capture } = latest;
  const hash = new CapturedPage(capture, new Map()).exchange(capture.documentUrl)?.bodyHash;
  const html = hash && (await bodyOf(queries, hash));
  if (!html) return [];
  const now = new CapturedPage(capture, new Map([[hash, html]]));
  return changesSince(fold.fingerprint, now.fingerprint);
}

/** Why a trial says nothing of what there is now. */
export async function whyTrialStale(
  queries: Queries,
  pageId: number,
  conditionsId: string,
  trial: StoredTrial,
): Promise<string[]> {
  const page = await measuredPage(queries, pageId, conditionsId);
  if (!page) return ['the page is not measured any more'];
  const [{ plan, fold }, conditions, checks] = await Promise.all([
    planFor(queries, pageId, page),
    conditionsById(queries, conditionsId),
    ownChecksOf(queries, pageId),
  ]);
  const reasons = whyOtherBasis(
    { ...trial, fold: trial.foldHash, checks: checksTried(trial.checks.rehearsal) },
    {
      captureId: page.captureId,
      plan,
      fold: foldMark(fold),
      conditions,
      checks: checks.map(({ text }) => text),
    },
  );
  return [...reasons, ...whyOnOneDevice(trial)];
}

/** The same without reading the page, as a board of a thousand pages needs it. */
export function whyTrialStaleOnBoard({ now, ...trial }: TrialOnBoard, conditions: Conditions): string[] {
  const fold = now.foldHash === null ? null : markOf(now.foldHash, now.foldUsable);
  // What is recommended is another plan only where page, fold CSS or what was decided are: those are asked for themselves.
  const decided = now.decisions && decisionsMark(now.decisions.rules);
  const isOfThem = trial.ownPlan === false ? decided === null : decided !== null && decided === trial.decided;
  const reasons = [
    ...(isOfThem ? [] : ['the plan was changed']),
    ...whyOtherBasis(
      { ...trial, fold: trial.foldHash, checks: null },
      { captureId: now.captureId, plan: trial.plan, fold, conditions, checks: null },
    ),
    ...whyOnOneDevice(trial.data),
  ];
  return [
    ...reasons,
    ...(now.decidedSince ? ['something was decided for the whole site since'] : []),
    ...(now.lighterSince ? ['its images or fonts were made lighter since'] : []),
  ];
}
