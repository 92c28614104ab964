import * as v from 'valibot';
import type { Conditions } from '../../core/measure/conditions.ts';
import { Trouble } from '../../engine/errors.ts';
import type { Database, Queries } from '../../store/database.ts';
import type { Job } from '../../store/jobs.ts';
import { findPage, type Page } from '../../store/sites.ts';
import type { Carry } from '../carry.ts';
import type { Read } from '../readings.ts';

/** What the work of one job has at hand. */
export interface Work {
  database: Database;
  job: Job;
  conditions: Conditions;
  carry: Carry;
  /** Carries orders out whose steps are told under another page's name. */
  carryFor(pageName: string): Carry;
  /** Reads captured pages, in threads of their own. */
  read: Read;
}

/** What a job came to. */
export interface Outcome {
  /** Keeps it: in one transaction with the job's end, so that neither is there without the other. */
  keep(queries: Queries): Promise<unknown>;
  /** What follows from it once it is kept. */
  afterwards?(): Promise<void>;
}

/** Which screens show something else once a job of a kind has ended. */
export type Refreshes = 'nothing' | 'its page' | 'every page';

/** One kind of job: all that is known of it, in one file each. */
export interface JobKind<I> {
  id: string;
  /** What the queue says, before the page's name: "Trial of". */
  doing: string;
  /** What a notice calls it: "The trial". */
  called: string;
  refreshes: Refreshes;
  /** Whether it is started for one page, for many at once, or by a route of its own. */
  startedFor: 'a page' | 'many pages' | 'itself';
  /** What it is given beside its page and conditions. */
  input: v.GenericSchema<unknown, I>;
  /** Does the work. @returns what is still to be kept of it, if anything. @throws Trouble in plain words */
  run(work: Work, input: I): Promise<Outcome | null>;
}

/** A kind whose input is checked when its work begins. */
export type AnyJobKind = Omit<JobKind<never>, 'input' | 'run'> & { run(work: Work): Promise<Outcome | null> };

/** Kinds that are given nothing beside their page. */
export const NO_INPUT = v.nullable(v.object({}));

export function jobKind<I>({ input, run, ...rest }: JobKind<I>): AnyJobKind {
  return {
    ...rest,
    async run(work) {
      const given = v.safeParse(input, work.job.input);
      if (!given.success) throw new Trouble('input', given.issues[0].message);
      return run(work, given.output);
    },
  };
}

/** The page a job is for. @throws Trouble when it is there no more */
export async function pageOf({ database, job }: Work): Promise<Page> {
  const page = job.pageId === null ? null : await findPage(database, job.pageId);
  if (!page) throw new Trouble('input', 'The page was deleted meanwhile.');
  return page;
}
