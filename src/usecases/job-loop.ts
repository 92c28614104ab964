import { Trouble } from '../engine/errors.ts';
import { carryOutApart } from '../engine/jobs/job-client.ts';
import type { Say } from '../engine/jobs/orders.ts';
import { conditionsById } from '../store/conditions.ts';
import type { Database, Queries } from '../store/database.ts';
import {
  cancelAsked,
  claimJob,
  endJob,
  markInterrupted,
  renewLease,
  reportProgress,
  type Job,
} from '../store/jobs.ts';
import { JOB_KINDS } from './jobs/index.ts';
import type { Outcome } from './jobs/kind.ts';
import type { Carry } from './carry.ts';
import type { Read } from './readings.ts';

const POLL_MS = 400;
/** A lease is renewed a few times before it would end. */
const RENEW_MS = 2_000;
/** Far above what the longest work takes: what is at it for longer will not end by itself. */
const DEADLINE_MS = 3_600_000;
/** The end of a job is said again where the database could not keep it, after so long each. */
const SAID_AGAIN_MS = [200, 1_000, 3_000];

/** Takes waiting jobs from the database, one at a time, and carries each out in a process of its own. */
export class JobLoop {
  #database: Database;
  #read: Read;
  #stopped = false;
  #current: AbortController | null = null;
  #ended: Promise<void> = Promise.resolve();
  #deadlineMs: number;

  /** @param deadlineMs work that takes longer is ended */
  constructor(database: Database, read: Read, deadlineMs = DEADLINE_MS) {
    this.#database = database;
    this.#read = read;
    this.#deadlineMs = deadlineMs;
  }

  start(): void {
    this.#ended = this.#run();
  }

  /** Stops taking jobs and ends the one that runs; resolves when it has ended. */
  async stop(): Promise<void> {
    this.#stopped = true;
    this.#current?.abort();
    await this.#ended;
  }

  async #run(): Promise<void> {
    let lookedAt = 0;
    while (!this.#stopped) {
      if (Date.now() - lookedAt > RENEW_MS) {
        lookedAt = Date.now();
        await markInterrupted(this.#database).catch(() => undefined);
      }
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
    const renew = setInterval(() => {
      void renewLease(this.#database, job.id).catch(() => undefined);
    }, RENEW_MS);
    let isLate = false;
    const deadline = setTimeout(() => {
      isLate = true;
      cancel.abort();
    }, this.#deadlineMs);
    try {
      const outcome = await this.#perform(job, cancel.signal);
      await this.#end((queries) => this.#keepAsDone(queries, job, outcome));
      await outcome?.afterwards?.();
    } catch (error) {
      const trouble = isLate ? tooLate(this.#deadlineMs) : troubleOf(error);
      const state = trouble.kind !== 'cancelled' ? 'failed' : this.#stopped ? 'interrupted' : 'cancelled';
      await this.#end((queries) =>
        endJob(queries, job.id, state, trouble.message, trouble.certificate),
      ).catch(() => undefined);
    } finally {
      clearInterval(watch);
      clearInterval(renew);
      clearTimeout(deadline);
      this.#current = null;
    }
  }

  async #keepAsDone(queries: Queries, job: Job, outcome: Outcome | null): Promise<void> {
    await outcome?.keep(queries);
    await endJob(queries, job.id, 'done', null);
  }

  /** Says how a job ended, all of it or nothing, and says it again where that could not be kept. */
  async #end(say: (queries: Queries) => Promise<void>): Promise<void> {
    for (const againAfterMs of SAID_AGAIN_MS) {
      try {
        return await this.#database.transaction(say);
      } catch {
        await new Promise((resolve) => setTimeout(resolve, againAfterMs));
      }
    }
    await this.#database.transaction(say);
  }

  async #perform(job: Job, signal: AbortSignal): Promise<Outcome | null> {
    const database = this.#database;
    const kind = JOB_KINDS.get(job.kind);
    if (!kind)
      throw new Trouble(
        'input',
        `This version knows no work called “${job.kind}”. Take it out of the queue.`,
      );
    const conditions = await conditionsById(database, job.conditionsId);
    if (!conditions)
      throw new Trouble('input', 'These conditions were deleted meanwhile. Choose others and measure again.');
    const say: Say = (step, done, of) =>
      void reportProgress(database, job.id, step, done, of).catch(() => undefined);
    const carryOut =
      (tell: Say): Carry =>
      (order, onSoFar) =>
        carryOutApart(order, tell, signal, onSoFar);
    return kind.run({
      database,
      job,
      conditions,
      read: this.#read,
      carry: carryOut(say),
      carryFor: (pageName) => carryOut((step, done, of) => say(`${pageName}: ${step}`, done, of)),
    });
  }
}

function tooLate(deadlineMs: number): Trouble {
  const minutes = Math.round(deadlineMs / 60_000);
  return new Trouble(
    'measuring',
    `It was ended after ${minutes} minutes: it would not have come to an end by itself. What was stored is kept. Try it with fewer pages or runs.`,
  );
}

function troubleOf(error: unknown): Trouble {
  if (error instanceof Trouble) return error;
  return new Trouble('measuring', `It broke off: ${error instanceof Error ? error.message : String(error)}`);
}
