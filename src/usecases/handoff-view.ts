import { createTwoFilesPatch, FILE_HEADERS_ONLY } from 'diff';
import { strToU8, zipSync } from 'fflate';
import { trialWords } from '../core/trial/verdict.ts';
import { activeRules } from '../core/treat/plan.ts';
import { bytesOfFile } from '../core/treat/new-files.ts';
import { putIn, type FileToPutIn } from '../core/treat/put-in.ts';
import { FileNames } from '../core/treat/file-names.ts';
import { ownDecisions } from '../core/treat/decisions.ts';
import { decisionSentence } from '../core/words/own-decision.ts';
import { capital } from '../core/path/words.ts';
import { wideDecisionSentence } from '../core/words/decisions.ts';
import { rehearsedSentence } from '../core/words/rehearsal.ts';
import type { Queries } from '../store/database.ts';
import { latestTrial } from '../store/proofs.ts';
import { whyTrialStale } from './staleness.ts';
import { treatedNow } from './stored-page.ts';

export interface HandoffView {
  difference: string;
  /** Rules of the plan that act, as the stage's tab counts them. */
  rules: number;
  files: FileToPutIn[];
  notApplied: { ruleId: string; why: string }[];
  /** Nonces of this capture that what is put in carries. */
  nonces: string[];
  htmlBytes: { before: number; after: number };
  /** What the user decided otherwise than recommended, and why, each as a sentence. */
  decisions: string[];
  /** What the newest trial said of this very plan, or why there is nothing to say. */
  proof: string;
}

export async function handoffView(
  queries: Queries,
  pageId: number,
  conditionsId: string,
): Promise<HandoffView | null> {
  const known = await treatedNow(queries, pageId, conditionsId);
  if (!known) return null;
  const { page, treated, now } = known;
  const { plan, own, recommended, wide, rehearsal } = now;
  const before = page.assets.document.bytes;
  const trial = await latestTrial(queries, pageId, conditionsId);
  const stale = trial && (await whyTrialStale(queries, pageId, conditionsId, trial));
  const decoder = new TextDecoder(page.assets.document.encoding);
  const text = (value: Uint8Array) => decoder.decode(value);
  return {
    difference: createTwoFilesPatch('as authored', 'treated', text(before), text(treated.html), '', '', {
      context: 2,
      headerOptions: FILE_HEADERS_ONLY,
    }),
    rules: activeRules(plan).length,
    files: putIn(
      {
        ...treated,
        url: page.capture.documentUrl,
        baseUrl: page.assets.captured.baseUrl,
        bytes: treated.html.length,
      },
      activeRules(plan),
    ),
    notApplied: treated.notApplied,
    decisions: [
      ...(own ? ownDecisions(plan, recommended).map(decisionSentence) : []),
      ...wide.decisions
        .filter(({ id }) => wide.outcomes.some((one) => one.decisionId === id && one.ruleIds.length))
        .map((one) => capital(wideDecisionSentence(one))),
    ],
    nonces: treated.nonces,
    htmlBytes: { before: before.length, after: treated.html.length },
    proof: !trial
      ? `No trial has been run: prove the plan before you put it in. ${rehearsedSentence(rehearsal, own)}`
      : stale?.length
        ? `The last trial says nothing of this: ${stale.join(', ')}. Prove it again. ${rehearsedSentence(rehearsal, own)}`
        : trialWords(trial.result),
  };
}

/** The hand-off as one archive: treated HTML, new and changed files under their paths, fold CSS, plan. */
export async function handoffArchive(
  queries: Queries,
  pageId: number,
  conditionsId: string,
): Promise<Uint8Array | null> {
  const known = await treatedNow(queries, pageId, conditionsId);
  if (!known) return null;
  const { page, treated, now } = known;
  const { plan, fold } = now;
  const ours = {
    'page.html': treated.html,
    'plan.json': strToU8(JSON.stringify(plan, null, 2)),
    ...(fold ? { 'fold.css': strToU8(fold.css) } : {}),
  };
  const names = new FileNames(Object.keys(ours), new URL(page.capture.documentUrl).host);
  const files = treated.files.map((file) => [names.of(file.url), bytesOfFile(file)] as const);
  return zipSync({ ...ours, ...Object.fromEntries(files) });
}
