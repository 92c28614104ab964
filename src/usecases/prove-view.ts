import type { WhatIsLeft } from '../core/trial/what-is-left.ts';
import type { Pair } from '../core/trial/pair.ts';
import { toldFaults, type ToldFault } from '../core/words/at-fault.ts';
import { looksWords } from '../core/words/looks.ts';
import { billWords, type LineWords } from '../core/words/bill.ts';
import { leftSentence, leftTodo } from '../core/words/what-is-left.ts';
import { activeRules } from '../core/treat/plan.ts';
import type { VisitKind } from '../core/measure/visit.ts';
import type { Queries } from '../store/database.ts';
import { latestTrial, type StoredTrial } from '../store/proofs.ts';
import { caveatsOf } from './caveats.ts';
import { whyTrialStale } from './staleness.ts';

/** What is left of a paint, each line with its words and what can be done about it. */
type ToldLeft = Omit<WhatIsLeft, 'lines'> & {
  sentence: string;
  lines: (LineWords & { asIsMs: number; treatedMs: number; todo: string })[];
};

export type ProveView = StoredTrial & {
  /** Why it says nothing of what there is now; none while it holds. */
  stale: string[];
  caveats: string[];
  /** What the treated paint still waits for, in words; null for a trial of before. */
  leftTold: ToldLeft | null;
  /** Which rules what broke comes of. */
  faultsTold: ToldFault[];
  runsApart: boolean;
  /** How many pairs there are and why, in words. */
  pairsTold: string;
};

export async function proveView(
  queries: Queries,
  pageId: number,
  conditionsId: string,
  visit: VisitKind = 'first',
): Promise<ProveView | null> {
  const trial = await latestTrial(queries, pageId, conditionsId, visit);
  if (!trial) return null;
  return {
    ...trial,
    stale: await whyTrialStale(queries, pageId, conditionsId, trial),
    caveats: trial.conditions
      ? caveatsOf({
          spreads: trial.arms[0]!.spreads,
          conditions: trial.conditions,
          yardstick: trial.yardstick,
        })
      : [],
    leftTold: toldLeft(trial),
    faultsTold: toldFaults(trial, trial.plan.rules),
    pairsTold: looksWords(trial.wish, pairsOf(trial)),
    runsApart: activeRules(trial.plan).some((rule) => /^(delay|near-view)$/.test(rule.treatment)),
  };
}

function pairsOf({ arms }: StoredTrial): Pair[] {
  const [asIs, treated] = [arms[0]?.metrics ?? [], arms[1]?.metrics ?? []];
  return asIs.flatMap((metrics, index) => {
    const other = treated[index];
    return other ? [{ asIs: metrics, treated: other }] : [];
  });
}

function toldLeft({ left, plan, result }: StoredTrial): ToldLeft | null {
  if (!left) return null;
  const said = new Map<string, string>();
  return {
    ...left,
    sentence: leftSentence(left, result.headline),
    lines: left.lines.map((line) => {
      const words = billWords(line);
      const todo = leftTodo(line, plan, plan.page);
      const before = todo.length > LONGEST_SAID_TWICE ? said.get(todo) : undefined;
      said.set(todo, before ?? words.label);
      return {
        ...words,
        asIsMs: line.asIsMs,
        treatedMs: line.treatedMs,
        todo: before === undefined ? todo : `the same as of “${before}”`,
      };
    }),
  };
}

/** A longer reason is said once, characters. */
const LONGEST_SAID_TWICE = 80;
