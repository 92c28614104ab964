import { readFileSync } from 'node:fs';
import * as v from 'valibot';
import { DECISIONS, PLAN } from '../app/api/schemas.ts';
import { readOwnChecks, type OwnCheck } from '../core/checks/own-check.ts';
import { withPageDecisions } from '../core/treat/decisions.ts';
import { matchText, type Plan } from '../core/treat/plan.ts';
import { rebind, type Rebound } from '../core/treat/rebind.ts';
import type { Scene } from '../core/treat/treatment.ts';
import { withDecisions, type WideDecision } from '../core/treat/wide-decisions.ts';
import { wideDecisionSentence } from '../core/words/decisions.ts';
import { Trouble } from '../engine/errors.ts';

/** @throws Trouble that says what is wrong with it */
export function readPlan(file: string): Plan {
  const read = v.safeParse(PLAN, readJson('plan', file));
  if (!read.success) throw new Trouble('input', `${file} is not a plan: ${read.issues[0].message}`);
  return read.output;
}

/** Reads checks of one's own, one a line. @throws Trouble that names the line that is none */
export function readOwnChecksFile(file: string): { text: string; checks: OwnCheck[] } {
  const text = readText('file of checks', file);
  try {
    return { text, checks: readOwnChecks(text) };
  } catch (error) {
    throw new Trouble('input', `${file}: ${error instanceof Error ? error.message : String(error)}`);
  }
}

/** What was decided before: a plan with rules of one's own, or decisions for more pages than one. */
export type Decided = { by: 'plan'; plan: Plan } | { by: 'decisions'; decisions: WideDecision[] };

/** Reads decisions, or a plan whose rules are decisions. @throws Trouble that says what is wrong with it */
export function readDecisions(file: string): Decided {
  const data = readJson('file of decisions', file);
  if (typeof data !== 'object' || data === null || !('wistrelDecisions' in data))
    return { by: 'plan', plan: readPlan(file) };
  const read = v.safeParse(DECISIONS, data);
  if (!read.success)
    throw new Trouble('input', `${file} is not a file of decisions: ${read.issues[0].message}`);
  return {
    by: 'decisions',
    decisions: read.output.decisions.map((one, index) => ({ id: index + 1, ...one })),
  };
}

/** The recommended plan with what was decided, and what is to be said of that. */
export function decidedPlan(
  scene: Scene,
  recommended: Plan,
  decided: Decided | null,
): { plan: Plan; said: string[] } {
  if (!decided) return { plan: recommended, said: [] };
  if (decided.by === 'plan') {
    const { rules } = decided.plan;
    const { decisions, rebound } = rebind({ rules, knew: rules }, scene, recommended);
    return { plan: withPageDecisions(recommended, decisions.rules), said: reboundLines(rebound) };
  }
  const { plan, outcomes } = withDecisions(scene, recommended, decided.decisions);
  const said = decided.decisions.flatMap((one) => {
    const { spared, ruleIds, refused } = outcomes.find((other) => other.decisionId === one.id)!;
    const sentence = wideDecisionSentence(one);
    if (spared) return [`Left alone here: ${sentence}`];
    if (ruleIds.length + refused.length === 0) return [`Nothing like it here: ${sentence}`];
    return [
      ...(ruleIds.length ? [`Decided: ${sentence}`] : []),
      ...refused.map(({ match, why }) => `Refused for ${matchText(match)}, as ${why}: ${sentence}`),
    ];
  });
  return { plan, said };
}

function readJson(what: string, file: string): unknown {
  return readAs(what, file, (text) => JSON.parse(text) as unknown);
}

function readText(what: string, file: string): string {
  return readAs(what, file, (text) => text);
}

function readAs<T>(what: string, file: string, read: (text: string) => T): T {
  try {
    return read(readFileSync(file, 'utf8'));
  } catch (error) {
    throw new Trouble(
      'input',
      `The ${what} ${file} could not be read: ${error instanceof Error ? error.message : String(error)}.`,
    );
  }
}

/** What became of the rules of a plan of before, in sentences. */
function reboundLines({ bound, lost, fresh }: Rebound): string[] {
  return [
    ...bound.map(({ ruleId, from, to }) => `Bound again, ${ruleId}: ${from} is now ${to}.`),
    ...lost.map(({ ruleId, what }) => `Does nothing, ${ruleId}: the page has no ${what}.`),
    ...fresh.map(({ ruleId, what }) => `New, ${ruleId}: ${what} is treated as recommended.`),
  ];
}
