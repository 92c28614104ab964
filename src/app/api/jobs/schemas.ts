import * as v from 'valibot';
import { JOB_KINDS } from '@/usecases/jobs';
import type { AnyJobKind } from '@/usecases/jobs/kind';
import { SOME_PAGES } from '../schemas';

/** The kinds of job that are started for so much. */
const kindsFor = (...these: AnyJobKind['startedFor'][]) =>
  [...JOB_KINDS.values()].filter((kind) => these.includes(kind.startedFor)).map((kind) => kind.id);

export const ADD_JOB = v.object({
  kind: v.picklist(kindsFor('a page', 'many pages'), 'There is no such job.'),
  pageId: v.pipe(v.number(), v.integer()),
  conditionsId: v.string(),
});
export const ADD_JOBS = v.object({
  kind: v.picklist(kindsFor('many pages'), 'There is no such job.'),
  pageIds: SOME_PAGES,
  conditionsId: v.string(),
});
