import { Trouble } from '../engine/errors.ts';
import { carryOutApart } from '../engine/jobs/job-client.ts';
import type { Say } from '../engine/jobs/orders.ts';
import { conditionsById } from '../store/conditions.ts';
import type { Database } from '../store/database.ts';
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
import type { Carry } from './carry.ts';
import type { Read } from './readings.ts';

const POLL_MS = 400;
/** A lease is renewed a few times before it would end. */
const RENEW_MS = 2_000;

/** Takes waiting jobs from the database, one at a time, and carries each out in a process of its own. */
export class JobLoop {
  #database: Database;
  #read: Read;
  #stopped = false;
  #current: AbortController | null = null;
  #ended: Promise<void> = Promise.resolve();

  constructor(database: Database, read: Read) {
    this.#database = database;
    this.#read = read;
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
      clearInterval(renew);
      this.#current = null;
    }
  }

  async #perform(job: Job, signal: AbortSignal): Promise<void> {
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
      (order) =>
        carryOutApart(order, tell, signal);
    await kind.run({
      database,
      job,
      conditions,
      read: this.#read,
      carry: carryOut(say),
      carryFor: (pageName) => carryOut((step, done, of) => say(`${pageName}: ${step}`, done, of)),
    });
  }
}
