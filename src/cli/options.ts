import { parseArgs } from 'node:util';
import {
  BUILT_IN_CONDITIONS,
  DEFAULT_CONDITIONS_ID,
  findConditions,
  type Conditions,
} from '../core/measure/conditions.ts';
import type { Risk } from '../core/treat/plan.ts';
import type { FoldViewport } from '../engine/fold/generate-fold.ts';

/** A call that cannot be understood: one sentence, then the usage line of its command. */
export class UsageError extends Error {}

export type CommandName = 'map' | 'fold' | 'plan' | 'trial';

export const USAGE: Record<CommandName, string> = {
  map: './wistrel map <url> … [--conditions ID] [--runs N] [--json FILE]',
  fold: './wistrel fold <url> … [--viewport WxH …] [--out FILE.css] [--json FILE]',
  plan: './wistrel plan <url> … [--conditions ID] [--risk low|medium|high] [--out plan.json] [--json FILE]',
  trial: './wistrel trial <url> … --plan plan.json [--conditions ID] [--runs N] [--json FILE]',
};

export interface Options {
  command: CommandName;
  urls: string[];
  conditions: Conditions;
  /** Runs of a measurement, or pairs of a trial. */
  runs: number;
  viewports: FoldViewport[] | null;
  risk: Risk;
  planFile: string | null;
  out: string | null;
  json: string | null;
  data: string | null;
  acceptCertificate: boolean;
}

const MOST_RUNS = 50;

/** Reads a command line, less the program's name. @throws UsageError */
export function readOptions(args: readonly string[]): Options {
  const [name, ...rest] = args;
  if (name !== 'map' && name !== 'fold' && name !== 'plan' && name !== 'trial') {
    throw new UsageError(name ? `There is no command “${name}”.` : 'Name a command.');
  }
  let parsed;
  try {
    parsed = parseArgs({
      args: rest,
      allowPositionals: true,
      options: {
        conditions: { type: 'string' },
        runs: { type: 'string' },
        viewport: { type: 'string', multiple: true },
        risk: { type: 'string' },
        plan: { type: 'string' },
        out: { type: 'string' },
        json: { type: 'string' },
        data: { type: 'string' },
        'accept-certificate': { type: 'boolean' },
      },
    });
  } catch (error) {
    throw new UsageError(error instanceof Error ? `${error.message.split('. ')[0]}.` : String(error));
  }
  const { values, positionals } = parsed;
  if (positionals.length === 0) throw new UsageError('Give the address of a page.');
  const conditionsId = values.conditions ?? DEFAULT_CONDITIONS_ID;
  const conditions = findConditions(conditionsId);
  if (!conditions)
    throw new UsageError(
      `There are no conditions “${conditionsId}”: use ${BUILT_IN_CONDITIONS.map((one) => one.id).join(' or ')}.`,
    );
  const risk = values.risk ?? 'medium';
  if (risk !== 'low' && risk !== 'medium' && risk !== 'high')
    throw new UsageError(`There is no risk “${risk}”: use low, medium or high.`);
  if (name === 'trial' && !values.plan) throw new UsageError('A trial needs a plan: --plan plan.json.');
  return {
    command: name,
    urls: positionals.map(readUrl),
    conditions,
    runs: readRuns(values.runs, name === 'trial' ? 6 : 3),
    viewports: values.viewport?.map(readViewport) ?? null,
    risk,
    planFile: values.plan ?? null,
    out: values.out ?? null,
    json: values.json ?? null,
    data: values.data ?? null,
    acceptCertificate: values['accept-certificate'] ?? false,
  };
}

function readUrl(text: string): string {
  if (/\.har$/i.test(text)) throw new UsageError('HAR files cannot be read yet: give the address of a page.');
  if (!URL.canParse(text))
    throw new UsageError(`“${text}” is not a full address. Write it like https://www.example.test/page.`);
  const url = new URL(text);
  if (!/^https?:$/.test(url.protocol))
    throw new UsageError(`Only http and https addresses can be measured, not ${url.protocol}`);
  url.hash = '';
  return url.href;
}

function readRuns(text: string | undefined, standard: number): number {
  if (text === undefined) return standard;
  const runs = Number(text);
  if (!Number.isInteger(runs) || runs < 1 || runs > MOST_RUNS)
    throw new UsageError(`--runs takes a whole number from 1 to ${MOST_RUNS}, not “${text}”.`);
  return runs;
}

function readViewport(text: string): FoldViewport {
  const match = /^(\d{2,4})x(\d{2,4})$/.exec(text);
  const [width, height] = [Number(match?.[1]), Number(match?.[2])];
  if (!match || width < 100 || height < 100)
    throw new UsageError(`--viewport takes a size like 390x844, not “${text}”.`);
  return { width, height };
}
