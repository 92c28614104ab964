import { DEFAULT_CONDITIONS_ID, findConditions } from '../core/measure/conditions.ts';
import { Trouble } from '../engine/errors.ts';
import { carryOutApart } from '../engine/jobs/job-client.ts';
import type { Order } from '../engine/jobs/orders.ts';
import { bodiesOf, latestCapture } from '../store/captures.ts';
import type { Database } from '../store/database.ts';
import { cancelAsked, claimJob, endJob, markInterrupted, reportProgress, type Job } from '../store/jobs.ts';
import { acceptedCertificates, findPage } from '../store/sites.ts';
import { keepFold, keepMeasurement, keepTrial } from './keep.ts';
import { measuredPage, planFor } from './stored-page.ts';

export const RUNS = 3;
export const PAIRS = 6;
const POLL_MS = 400;

/** Takes waiting jobs from the database, one at a time, and carries each out in a process of its own. */
export class JobLoop {
  #database: Database;
  #stopped = false;
  #current: AbortController | null = null;
  #ended: Promise<void> = Promise.resolve();

  constructor(database: Database) {
    this.#database = database;
  }

  async start(): Promise<void> {
    await markInterrupted(this.#database);
    this.#ended = this.#run();
  }

  /** Stops taking jobs and ends the one that runs; resolves when it has ended. */
  async stop(): Promise<void> {
    this.#stopped = true;
    this.#current?.abort();
    await this.#ended;
  }

  async #run(): Promise<void> {
    while (!this.#stopped) {
      const job = await claimJob(this.#database).catch(() => null);
      if (job) await this.#carryOut(job);
      else await new Promise((resolve) => setTimeout(resolve, POLL_MS));
    }
  }

  async #carryOut(job: Job): Promise<void> {
    const cancel = new AbortController();
    this.#current = cancel;
    const watch = setInterval(() => {
      void cancelAsked(this.#database, job.id).then((asked) => asked && cancel.abort());
    }, POLL_MS);
    try {
      await this.#perform(job, cancel.signal);
      await endJob(this.#database, job.id, 'done', null);
    } catch (error) {
      const trouble =
        error instanceof Trouble
          ? error
          : new Trouble(
              'measuring',
              `It broke off: ${error instanceof Error ? error.message : String(error)}`,
            );
      const state = trouble.kind !== 'cancelled' ? 'failed' : this.#stopped ? 'interrupted' : 'cancelled';
      await endJob(this.#database, job.id, state, trouble.message, trouble.certificate).catch(
        () => undefined,
      );
    } finally {
      clearInterval(watch);
      this.#current = null;
    }
  }

  async #perform(job: Job, signal: AbortSignal): Promise<void> {
    const database = this.#database;
    const page = await findPage(database, job.pageId);
    if (!page) throw new Trouble('input', 'The page was deleted meanwhile.');
    const conditions = findConditions(job.conditionsId) ?? findConditions(DEFAULT_CONDITIONS_ID)!;
    const say = (step: string, done: number, of: number) =>
      void reportProgress(database, job.id, step, done, of).catch(() => undefined);
    const carry = <O extends Order>(order: O) => carryOutApart(order, say, signal);

    if (job.kind === 'measure') {
      const accepted = await acceptedCertificates(database);
      await keepMeasurement(
        database,
        page.id,
        await carry({
          kind: 'measure',
          pageName: page.name,
          url: page.url,
          conditions,
          runs: RUNS,
          accepted,
        }),
      );
      return;
    }
    if (job.kind === 'fold') {
      const stored = await latestCapture(database, page.id);
      if (!stored)
        throw new Trouble(
          'input',
          'The page was not measured yet. Measure it first: fold CSS is made from its capture.',
        );
      const bodies = await bodiesOf(database, stored.id);
      await keepFold(
        database,
        page.id,
        stored.id,
        await carry({ kind: 'fold', pageName: page.name, capture: stored.capture, bodies }),
      );
      return;
    }
    const measured = await measuredPage(database, page.id, conditions.id);
    if (!measured)
      throw new Trouble(
        'input',
        `The page was not measured under ${conditions.name}. Measure it first: a trial replays its capture.`,
      );
    const { plan, fold } = await planFor(database, page.id, measured);
    const result = await carry({
      kind: 'trial',
      pageName: page.name,
      capture: measured.capture,
      bodies: measured.bodies,
      requests: measured.requests,
      plan,
      fold,
      conditions,
      pairs: PAIRS,
    });
    await keepTrial(database, page.id, measured.captureId, plan, result);
  }
}
