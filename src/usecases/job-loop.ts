import { rm } from 'node:fs/promises';
import type { Conditions } from '../core/measure/conditions.ts';
import { Trouble } from '../engine/errors.ts';
import { carryOutApart } from '../engine/jobs/job-client.ts';
import { addCapture } from '../store/captures.ts';
import type { Database } from '../store/database.ts';
import {
  cancelAsked,
  claimJob,
  endJob,
  keepResult,
  markInterrupted,
  reportProgress,
  setJobPage,
  type Job,
} from '../store/jobs.ts';
import { conditionsById, latestYardstick } from '../store/conditions.ts';
import { DEFAULT_SETTINGS, settingsOf, visitOf } from '../store/settings.ts';
import { acceptedCertificates, ensurePage, findPage } from '../store/sites.ts';
import { foldMark } from './fold-hash.ts';
import { keepMeasurement, keepTrial } from './keep.ts';
import { answersOfFamily, makeFamilyFold, makeFold, type Carry } from './make-fold.ts';
import { rebindPlan } from './rebind-plan.ts';
import { rehearsed } from './rehearsal.ts';
import { measuredPage, planFor } from './stored-page.ts';

export const PAIRS = 6;
/** Pages that one look at a site finds at most, unless told otherwise. */
export const MOST_FOUND = 200;
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
    const conditions = await conditionsById(database, job.conditionsId);
    if (!conditions)
      throw new Trouble('input', 'These conditions were deleted meanwhile. Choose others and measure again.');
    const say = (step: string, done: number, of: number) =>
      void reportProgress(database, job.id, step, done, of).catch(() => undefined);
    const carry: Carry = (order) => carryOutApart(order, say, signal);
    if (job.kind === 'discover') return this.#discover(job, carry);
    if (job.kind === 'import') return this.#import(job, conditions, carry);
    const page = job.pageId === null ? null : await findPage(database, job.pageId);
    if (!page) throw new Trouble('input', 'The page was deleted meanwhile.');

    const yardstick = await latestYardstick(database);
    if (job.kind === 'measure') {
      const [accepted, settings, visit] = await Promise.all([
        acceptedCertificates(database),
        settingsOf(database, page.id),
        visitOf(database, page.id),
      ]);
      const result = await carry({
        kind: 'measure',
        pageName: page.name,
        url: page.url,
        conditions,
        runs: settings.runs,
        returnVisits: settings.returnVisits,
        ownClock: settings.ownClock,
        accepted,
        visit,
        yardstick,
      });
      await keepMeasurement(database, page.id, conditions, result);
      await rebindPlan(database, page.id, conditions.id);
      return;
    }
    if (job.kind === 'fold') {
      await makeFold(database, page, carry, await answersOfFamily(database, page));
      return;
    }
    if (job.kind === 'family-fold') {
      await makeFamilyFold(database, page, (name) => (order) => {
        const tell = (step: string, done: number, of: number) => say(`${name}: ${step}`, done, of);
        return carryOutApart(order, tell, signal);
      });
      return;
    }
    const measured = await measuredPage(database, page.id, conditions.id);
    if (!measured)
      throw new Trouble(
        'input',
        `The page was not measured under ${conditions.name}. Measure it first: its capture is what is replayed.`,
      );
    const { start, fold } = await planFor(database, page.id, measured);
    const { capture, bodies, state, requests } = measured;
    const replayed = { pageName: page.name, capture, bodies, state, requests, fold };
    // What is proved is what was rehearsed: the kept one, where there is one.
    const rehearsal = await rehearsed(database, { pageId: page.id, ...replayed }, start, carry);
    if (job.kind === 'rehearse') return;
    const { plan, own } = await planFor(database, page.id, measured);
    const result = await carry({
      kind: 'trial',
      ...replayed,
      yardstick,
      plan,
      // What is excepted from the recommended plan is not in what is tried.
      rehearsal: own ? rehearsal : { ...rehearsal, exceptions: [], gaveUp: false },
      conditions,
      pairs: PAIRS,
    });
    const of = { captureId: measured.captureId, plan, ownPlan: own, foldHash: foldMark(fold) };
    await keepTrial(database, page.id, of, result);
  }

  async #discover(job: Job, carry: Carry): Promise<void> {
    const { url, limit } = job.input ?? {};
    if (!url) throw new Trouble('input', 'No address was given to look for pages at.');
    const accepted = await acceptedCertificates(this.#database);
    const { found } = await carry({
      kind: 'discover',
      pageName: url,
      url,
      limit: limit ?? MOST_FOUND,
      accepted,
    });
    await keepResult(this.#database, job.id, { found });
  }

  /** A HAR file becomes a page with its capture; with bodies it is measured in replay at once. */
  async #import(job: Job, conditions: Conditions, carry: Carry): Promise<void> {
    const database = this.#database;
    const file = job.input?.file;
    if (!file) throw new Trouble('input', 'No file was given.');
    const { capture, bodies, canReplay } = await carry({
      kind: 'read-har',
      pageName: job.pageName,
      path: file,
    });
    const page = await ensurePage(database, capture.url, capture.title || capture.url);
    await setJobPage(database, job.id, page.id);
    if (!canReplay)
      await database.transaction((queries) => addCapture(queries, page.id, capture, bodies, null));
    else {
      const { measurement } = await carry({
        kind: 'replay',
        pageName: page.name,
        capture,
        bodies,
        state: null,
        conditions,
        runs: DEFAULT_SETTINGS.runs,
        returnVisits: false,
        yardstick: await latestYardstick(database),
      });
      await keepMeasurement(database, page.id, conditions, { capture, bodies, state: null, measurement });
    }
    // Until all of it is stored the file is needed: it may have to be tried again.
    await rm(file, { force: true });
  }
}
