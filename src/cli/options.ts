import type { VisitKind } from '../core/measure/visit.ts';
import type { PairsWish } from '../core/trial/looks.ts';
import { parseArgs } from 'node:util';
import {
  BUILT_IN_CONDITIONS,
  DEFAULT_CONDITIONS_ID,
  findConditions,
  type Conditions,
} from '../core/measure/conditions.ts';
import { splitSelectors } from '../core/css/selectors.ts';
import type { FoldDecision } from '../core/fold/decisions.ts';
import type { RestMode } from '../core/fold/rest-mode.ts';
import { NAVIGATION_PAIRS } from '../core/next/navigation.ts';
import { ALLOWANCES, type Allowance } from '../core/trial/verdict.ts';
import type { Risk } from '../core/treat/plan.ts';
import type { FoldViewport } from '../core/fold/viewports.ts';

/** A call that cannot be understood: one sentence, then the usage line of its command. */
export class UsageError extends Error {}

const COMMANDS = ['map', 'fold', 'plan', 'treat', 'trial', 'prove', 'next', 'har'] as const;
export type CommandName = (typeof COMMANDS)[number];

/** A page by its address, or a HAR file. */
export type Input = { kind: 'url'; url: string } | { kind: 'har'; path: string };

export const USAGE: Record<CommandName, string> = {
  map: './wistrel map <url|file.har> … [--conditions ID] [--runs N] [--json FILE]',
  fold: './wistrel fold <url|file.har> … [--viewport WxH[@FOLD] …] [--keep SELECTOR …] [--leave-out SELECTOR …] [--budget KB] [--rest whole|less-fold|used-only] [--check FILE.css] [--out FILE.css] [--json FILE]',
  plan: './wistrel plan <url|file.har> … [--conditions ID] [--risk low|medium|high] [--decisions FILE] [--own-checks FILE] [--lighter-files] [--unrehearsed] [--out plan.json] [--json FILE]',
  treat:
    './wistrel treat <url|file.har> --plan plan.json --out DIR [--even-illegal] [--use-unproved] [--json FILE]',
  trial:
    './wistrel trial <url|file.har> … --plan plan.json [--against other.json | --beside other.json] [--ideal] [--return-visit] [--conditions ID] [--runs N] [--own-checks FILE] [--use-unproved] [--unrehearsed] [--even-illegal] [--allow WHAT …] [--json FILE]',
  prove:
    './wistrel prove <url|file.har> … [--conditions ID] [--risk low|medium|high] [--decisions FILE] [--own-checks FILE] [--lighter-files] [--runs N] [--allow WHAT …] [--out plan.json] [--json FILE]',
  next: './wistrel next <url> <next url> [--plan plan.json] [--next-plan other.json] [--conditions ID] [--runs N] [--out plan.json] [--json FILE]',
  har: './wistrel har <url> --out FILE.har [--conditions ID] [--keep-secrets]',
};

export interface Options {
  command: CommandName;
  inputs: Input[];
  conditions: Conditions;
  /** Runs of a measurement, or rounds in which rules are put in. */
  runs: number;
  /** Of a trial. */
  pairs: PairsWish;
  viewports: FoldViewport[] | null;
  decisions: FoldDecision[];
  /** For the compressed head, bytes; null for the built-in one, which is told and not enforced. */
  budgetBytes: number | null;
  rest: RestMode;
  /** Fold CSS that is there already, to be proved. */
  checkFile: string | null;
  /** Use fold CSS in a trial although it is not proved. */
  useUnproved: boolean;
  risk: Risk;
  /** Take the plan by reading alone, without loading the page with it. */
  unrehearsed: boolean;
  /** Make lighter versions of the page’s images and fonts, for the plan to use. */
  lighterFiles: boolean;
  /** Carry out rules that would break what the page's scripts rely on. */
  evenIllegal: boolean;
  /** What may differ in a trial that is to succeed all the same. */
  allowed: ReadonlySet<Allowance>;
  planFile: string | null;
  /** The plan of the page that is gone to. */
  nextPlanFile: string | null;
  /** Another plan that a trial holds the page against, in the place of the page as is. */
  againstFile: string | null;
  /** Another plan that a trial loads the page with besides. */
  besideFile: string | null;
  /** Whether a trial loads the page besides as its floor takes it to be. */
  idealPage: boolean;
  /** Which visit a trial times. */
  visit: VisitKind;
  /** A plan of before, whose rules are bound to the page as it is now. */
  decisionsFile: string | null;
  /** What the page does in the developer's words, one check a line. */
  ownChecksFile: string | null;
  out: string | null;
  json: string | null;
  data: string | null;
  acceptCertificate: boolean;
  /** Leave cookies and authorisation in a HAR as they were. */
  keepSecrets: boolean;
}

const MOST_RUNS = 50;
/** How many there are where nothing is said, other than three. */
const RUNS: Partial<Record<CommandName, number>> = { trial: 6, prove: 6, next: NAVIGATION_PAIRS };

const OPTIONS = {
  conditions: { type: 'string' },
  runs: { type: 'string' },
  viewport: { type: 'string', multiple: true },
  keep: { type: 'string', multiple: true },
  'leave-out': { type: 'string', multiple: true },
  budget: { type: 'string' },
  rest: { type: 'string' },
  check: { type: 'string' },
  'use-unproved': { type: 'boolean' },
  risk: { type: 'string' },
  unrehearsed: { type: 'boolean' },
  'lighter-files': { type: 'boolean' },
  'even-illegal': { type: 'boolean' },
  allow: { type: 'string', multiple: true },
  plan: { type: 'string' },
  'next-plan': { type: 'string' },
  against: { type: 'string' },
  beside: { type: 'string' },
  ideal: { type: 'boolean' },
  'return-visit': { type: 'boolean' },
  decisions: { type: 'string' },
  'own-checks': { type: 'string' },
  out: { type: 'string' },
  json: { type: 'string' },
  data: { type: 'string' },
  'accept-certificate': { type: 'boolean' },
  'keep-secrets': { type: 'boolean' },
} as const;

function parsedArguments(args: string[]) {
  try {
    return parseArgs({ args, allowPositionals: true, options: OPTIONS });
  } catch (error) {
    throw new UsageError(error instanceof Error ? `${error.message.split('. ')[0]}.` : String(error));
  }
}

/** Reads a command line, less the program's name. @throws UsageError */
export function readOptions(args: readonly string[]): Options {
  const [given, ...rest] = args;
  const name = COMMANDS.find((one) => one === given);
  if (!name) throw new UsageError(given ? `There is no command “${given}”.` : 'Name a command.');
  const { values, positionals } = parsedArguments(rest);
  if (positionals.length === 0) throw new UsageError('Give the address of a page.');
  const inputs = positionals.map(readInput);
  const conditionsId = values.conditions ?? DEFAULT_CONDITIONS_ID;
  const conditions = findConditions(conditionsId);
  if (!conditions)
    throw new UsageError(
      `There are no conditions “${conditionsId}”: use ${BUILT_IN_CONDITIONS.map((one) => one.id).join(' or ')}.`,
    );
  const risk = values.risk ?? 'medium';
  if (risk !== 'low' && risk !== 'medium' && risk !== 'high')
    throw new UsageError(`There is no risk “${risk}”: use low, medium or high.`);
  const restMode = values.rest ?? 'whole';
  if (restMode !== 'whole' && restMode !== 'less-fold' && restMode !== 'used-only')
    throw new UsageError(`There is no rest “${restMode}”: use whole, less-fold or used-only.`);
  if (name === 'har' && !values.out) throw new UsageError('Say where the HAR goes: --out FILE.har.');
  if (name === 'har' && (inputs.length > 1 || inputs[0]!.kind === 'har'))
    throw new UsageError('A HAR is made of one page: give its address.');
  if (name === 'next' && inputs.length !== 2)
    throw new UsageError('Give two addresses: the page, and the one that visitors go on to.');
  if (name !== 'next' && values['next-plan'])
    throw new UsageError('Only on the way to a next page has that a plan: --next-plan goes with next.');
  if (name === 'trial' && !values.plan) throw new UsageError('A trial needs a plan: --plan plan.json.');
  if (name !== 'trial' && values.against)
    throw new UsageError('Only a trial holds one plan against another: --against goes with trial.');
  if (name !== 'trial' && (values.beside ?? values.ideal))
    throw new UsageError('Only a trial has further arms: --beside and --ideal go with trial.');
  if (name !== 'trial' && values['return-visit'])
    throw new UsageError('Only a trial times return visits: --return-visit goes with trial.');
  if (name !== 'plan' && name !== 'prove' && values['lighter-files'])
    throw new UsageError(
      'Lighter files are made with a plan: --lighter-files goes with plan and prove. A plan that uses them makes them by itself.',
    );
  if (values.against && (values.beside ?? values.ideal))
    throw new UsageError(
      'With --against there is no page as is that further arms could stand beside: leave --against out, and give that plan with --beside.',
    );
  if (name === 'treat' && !values.plan) throw new UsageError('Treating needs a plan: --plan plan.json.');
  if (name === 'treat' && !values.out) throw new UsageError('Say where the changed files go: --out DIR.');
  if (name === 'treat' && inputs.length > 1)
    throw new UsageError('One page is treated at a time: give one address.');
  return {
    command: name,
    inputs,
    conditions,
    runs: readRuns(values.runs) ?? RUNS[name] ?? 3,
    pairs: readRuns(values.runs) ?? 'until clear',
    viewports: values.viewport?.map(readViewport) ?? null,
    decisions: [
      ...(values.keep ?? []).map((what) => readDecision('keep', what)),
      ...(values['leave-out'] ?? []).map((what) => readDecision('leave-out', what)),
    ],
    budgetBytes: readBudget(values.budget),
    rest: restMode,
    checkFile: values.check ?? null,
    useUnproved: values['use-unproved'] ?? false,
    risk,
    unrehearsed: values.unrehearsed ?? false,
    lighterFiles: values['lighter-files'] ?? false,
    evenIllegal: values['even-illegal'] ?? false,
    allowed: new Set((values.allow ?? []).map(readAllowance)),
    planFile: values.plan ?? null,
    nextPlanFile: values['next-plan'] ?? null,
    againstFile: values.against ?? null,
    besideFile: values.beside ?? null,
    idealPage: values.ideal ?? false,
    visit: values['return-visit'] ? 'return' : 'first',
    decisionsFile: values.decisions ?? null,
    ownChecksFile: values['own-checks'] ?? null,
    out: values.out ?? null,
    json: values.json ?? null,
    data: values.data ?? null,
    acceptCertificate: values['accept-certificate'] ?? false,
    keepSecrets: values['keep-secrets'] ?? false,
  };
}

function readInput(text: string): Input {
  if (/\.har$/i.test(text) && !/^https?:/i.test(text)) return { kind: 'har', path: text };
  if (!URL.canParse(text))
    throw new UsageError(`“${text}” is not a full address. Write it like https://www.example.test/page.`);
  const url = new URL(text);
  if (!/^https?:$/.test(url.protocol))
    throw new UsageError(`Only http and https addresses can be measured, not ${url.protocol}`);
  url.hash = '';
  return { kind: 'url', url: url.href };
}

function readRuns(text: string | undefined): number | null {
  if (text === undefined) return null;
  const runs = Number(text);
  if (!Number.isInteger(runs) || runs < 1 || runs > MOST_RUNS)
    throw new UsageError(`--runs takes a whole number from 1 to ${MOST_RUNS}, not “${text}”.`);
  return runs;
}

function readViewport(text: string): FoldViewport {
  const match = /^(\d{2,4})x(\d{2,4})(?:@(\d{2,4}))?$/.exec(text);
  const [width, height] = [Number(match?.[1]), Number(match?.[2])];
  const foldHeight = match?.[3] === undefined ? height : Number(match[3]);
  if (!match || width < 100 || height < 100)
    throw new UsageError(
      `--viewport takes a size like 390x844, or 390x844@600 for a fold at 600, not “${text}”.`,
    );
  if (foldHeight < 50 || foldHeight > height)
    throw new UsageError(
      `The fold of ${width}x${height} lies between 50 and ${height}, not at ${foldHeight}.`,
    );
  return { width, height, ...(foldHeight < height ? { foldHeight } : {}) };
}

/** A selector, or a stylesheet by its address or file name. */
function readDecision(verb: FoldDecision['verb'], what: string): FoldDecision {
  const text = what.trim();
  if (/^https?:|\.css$/i.test(text)) return { verb, by: 'sheet', what: text };
  if (!splitSelectors(text))
    throw new UsageError(`--${verb} takes a selector or a stylesheet, not “${what}”.`);
  return { verb, by: 'selector', what: text };
}

function readAllowance(text: string): Allowance {
  const allowance = ALLOWANCES.find((one) => one === text);
  if (!allowance) throw new UsageError(`--allow takes ${ALLOWANCES.join(', ')}, not “${text}”.`);
  return allowance;
}

function readBudget(text: string | undefined): number | null {
  if (text === undefined) return null;
  const kilobytes = Number(text);
  if (!(kilobytes > 0) || kilobytes > 1_000)
    throw new UsageError(`--budget takes kilobytes, 14 for instance, not “${text}”.`);
  return Math.round(kilobytes * 1000);
}
