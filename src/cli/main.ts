import { readFileSync, writeFileSync } from 'node:fs';
import { isAbsolute, join } from 'node:path';
import * as v from 'valibot';
import { PLAN } from '../app/api/schemas.ts';
import { ms, bytes } from '../core/path/words.ts';
import { TREATMENT_WORDS, activeRules, matchText, type Plan } from '../core/treat/plan.ts';
import { Trouble } from '../engine/errors.ts';
import { readCertificate } from '../engine/chromium/certificates.ts';
import { carryOut, type ResultOf } from '../engine/jobs/orders.ts';
import { pageAssetsOf, recommendFor } from '../engine/treat-page.ts';
import { LockedError } from '../locks/process-lock.ts';
import { openDatabase, type Database } from '../store/database.ts';
import { ensurePage } from '../store/sites.ts';
import { keepFold, keepMeasurement, keepTrial } from '../usecases/keep.ts';
import { foldJson, mapJson, trialJson } from './json.ts';
import { readOptions, USAGE, type Options } from './options.ts';

const EXIT = { done: 0, checkFailed: 1, badInput: 2, notMeasured: 3 } as const;

/** A file the user named, from where the user called. */
const userPath = (path: string) =>
  isAbsolute(path) ? path : join(process.env['WISTREL_CWD'] ?? process.cwd(), path);

class Command {
  #options: Options;
  #database: Database;
  #cancel: AbortController;

  constructor(options: Options, database: Database, cancel: AbortController) {
    this.#options = options;
    this.#database = database;
    this.#cancel = cancel;
  }

  /** Carries the command out for every address. @returns the exit code */
  async run(): Promise<number> {
    const answers: unknown[] = [];
    let code: number = EXIT.done;
    for (const url of this.#options.urls) {
      const { json, text, failed } = await this.#one(url);
      answers.push(json);
      if (failed) code = EXIT.checkFailed;
      if (this.#options.json !== '-') console.log(text);
    }
    if (this.#options.json) {
      const text = `${JSON.stringify(answers.length === 1 ? answers[0] : answers, null, 2)}\n`;
      if (this.#options.json === '-') process.stdout.write(text);
      else writeFileSync(userPath(this.#options.json), text);
    }
    return code;
  }

  #one(url: string): Promise<{ json: unknown; text: string; failed?: boolean }> {
    switch (this.#options.command) {
      case 'map':
        return this.#map(url);
      case 'fold':
        return this.#fold(url);
      case 'plan':
        return this.#plan(url);
      case 'trial':
        return this.#trial(url);
    }
  }

  async #map(url: string) {
    const { result } = await this.#measure(url, this.#options.runs);
    const json = mapJson(result, this.#options.conditions);
    const lines = [
      json.sentence,
      ...json.paintBill.map(
        (segment) => `${ms(segment.endMs - segment.startMs).padStart(10)}  ${segment.label}`,
      ),
    ];
    lines.push(
      '',
      ...json.assets.map(
        (asset) =>
          `${asset.hold.padEnd(7)} ${bytes(asset.wireBytes).padStart(8)}  ${asset.url.slice(0, 100)}\n                  ${asset.evidence}`,
      ),
    );
    return { json, text: lines.join('\n') };
  }

  async #fold(url: string) {
    const { fold } = await this.#makeFold(await this.#measure(url, 1));
    if (this.#options.out) writeFileSync(userPath(this.#options.out), fold.css);
    const proof = fold.viewports.map(
      (one) =>
        `${one.width}×${one.height}: ${(one.differingPixelShare * 100).toFixed(3)} % of the pixels differ`,
    );
    const head = `${bytes(fold.foldBytes)} of ${bytes(fold.sourceBytes)} CSS (compressed ${bytes(fold.foldCompressedBytes)} of ${bytes(fold.sourceCompressedBytes)}), ${fold.proved ? 'proved' : 'not proved'}.`;
    return {
      json: foldJson(url, fold),
      text: [
        head,
        ...proof,
        ...fold.remarks,
        ...(this.#options.out || this.#options.json ? [] : ['', fold.css]),
      ].join('\n'),
      failed: !fold.proved,
    };
  }

  async #plan(url: string) {
    const measured = await this.#measure(url, 1);
    const { capture, bodies, measurement } = measured.result;
    const { fold } = await this.#makeFold(measured);
    const page = pageAssetsOf(capture, bodies, measurement.runs[0]!.requests);
    const plan = recommendFor(capture, bodies, page, fold, this.#options.risk);
    if (this.#options.out) writeFileSync(userPath(this.#options.out), `${JSON.stringify(plan, null, 2)}\n`);
    const lines = plan.rules.map(
      (rule) =>
        `${rule.on ? 'on ' : 'off'} ${rule.risk.padEnd(6)} ${TREATMENT_WORDS[rule.treatment].padEnd(24)} ${matchText(rule.match)}\n    ${rule.reason}`,
    );
    return { json: plan, text: lines.join('\n') };
  }

  async #trial(url: string) {
    const plan = readPlan(userPath(this.#options.planFile!));
    const measured = await this.#measure(url, 1);
    const { capture, bodies, measurement } = measured.result;
    const needsFold = activeRules(plan).some((rule) => rule.treatment === 'fold-css-late');
    const fold = needsFold ? (await this.#makeFold(measured)).fold : null;
    const result = await carryOut(
      {
        kind: 'trial',
        pageName: url,
        capture,
        bodies,
        requests: measurement.runs[0]!.requests,
        plan,
        fold,
        conditions: this.#options.conditions,
        pairs: this.#options.runs,
      },
      say,
      this.#cancel.signal,
    );
    await keepTrial(this.#database, measured.pageId, measured.captureId, plan, result);
    const json = trialJson(url, result);
    return {
      json,
      text: [
        result.trial.result.sentence,
        ...result.notApplied.map((one) => `Not applied, ${one.ruleId}: ${one.why}`),
      ].join('\n'),
    };
  }

  async #measure(url: string, runs: number) {
    const { conditions, acceptCertificate } = this.#options;
    const accepted = acceptCertificate
      ? [await readCertificate(new URL(url))].flatMap((one) =>
          one ? [{ host: one.host, publicKeyHash: one.publicKeyHash }] : [],
        )
      : [];
    const result = await carryOut(
      { kind: 'measure', pageName: url, url, conditions, runs, accepted },
      say,
      this.#cancel.signal,
    );
    const page = await ensurePage(this.#database, url, result.capture.title || url);
    const measurementId = await keepMeasurement(this.#database, page.id, result);
    const [row] = await this.#database.query<{ captureId: number }>(
      'SELECT capture_id AS "captureId" FROM measurement WHERE id = $1',
      [measurementId],
    );
    return { result, pageId: page.id, captureId: row!.captureId };
  }

  async #makeFold({
    result,
    pageId,
    captureId,
  }: {
    result: ResultOf<'measure'>;
    pageId: number;
    captureId: number;
  }) {
    const { viewports } = this.#options;
    const made = await carryOut(
      {
        kind: 'fold',
        pageName: result.capture.url,
        capture: result.capture,
        bodies: result.bodies,
        ...(viewports ? { viewports } : {}),
      },
      say,
      this.#cancel.signal,
    );
    await keepFold(this.#database, pageId, captureId, made);
    return made;
  }
}

function say(step: string): void {
  process.stderr.write(`${step}\n`);
}

function readPlan(file: string): Plan {
  let data: unknown;
  try {
    data = JSON.parse(readFileSync(file, 'utf8'));
  } catch (error) {
    throw new Trouble(
      'input',
      `The plan ${file} could not be read: ${error instanceof Error ? error.message : String(error)}.`,
    );
  }
  const read = v.safeParse(PLAN, data);
  if (!read.success) throw new Trouble('input', `${file} is not a plan: ${read.issues[0].message}`);
  return read.output as Plan;
}

async function main(): Promise<number> {
  let options: Options;
  try {
    options = readOptions(process.argv.slice(2));
  } catch (error) {
    const message = error instanceof Error ? error.message : String(error);
    const name = process.argv[2] as keyof typeof USAGE;
    const usage = USAGE[name] ? [USAGE[name]] : ['./wistrel demo | start | test', ...Object.values(USAGE)];
    process.stderr.write(`${message}\nUsage: ${usage.join('\n       ')}\n`);
    return EXIT.badInput;
  }
  const cancel = new AbortController();
  process.on('SIGINT', () => cancel.abort());
  process.on('SIGTERM', () => cancel.abort());
  let database: Database | null = null;
  try {
    database = await openDatabase(
      options.data ? userPath(options.data) : join(process.cwd(), '.data', 'cli'),
      'the command line',
    );
    return await new Command(options, database, cancel).run();
  } catch (error) {
    if (error instanceof Trouble) {
      const hint = error.kind === 'certificate' ? ' On the command line: add --accept-certificate.' : '';
      process.stderr.write(`${error.message}${hint}\n`);
      return error.kind === 'input' ? EXIT.badInput : EXIT.notMeasured;
    }
    if (error instanceof LockedError) {
      process.stderr.write(
        `The data folder is in use: ${error.message} Choose another one with --data DIR.\n`,
      );
      return EXIT.badInput;
    }
    process.stderr.write(`It could not be done: ${error instanceof Error ? error.message : String(error)}\n`);
    return EXIT.notMeasured;
  } finally {
    await database?.close();
  }
}

process.exit(await main());
