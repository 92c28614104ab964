import type { Job } from '../../store/jobs.ts';
import { discover } from './discover.ts';
import { familyCheck } from './family-check.ts';
import { familyFold } from './family-fold.ts';
import { fold } from './fold.ts';
import { importHar } from './import-har.ts';
import type { AnyJobKind, Refreshes } from './kind.ts';
import { lighterImages } from './lighter-files.ts';
import { measure } from './measure.ts';
import { rehearse } from './rehearse.ts';
import { navigation } from './navigation.ts';
import { ruleGains } from './rule-gains.ts';
import { trial } from './trial.ts';

/** Every kind of job, by its id. */
export const JOB_KINDS: ReadonlyMap<string, AnyJobKind> = new Map(
  [
    measure,
    fold,
    lighterImages,
    familyFold,
    rehearse,
    trial,
    ruleGains,
    familyCheck,
    navigation,
    importHar,
    discover,
  ].map((kind) => [kind.id, kind]),
);

/** A job as screens are told of it: with its kind's words, and which screens it changes. */
export interface JobView extends Job {
  doing: string;
  called: string;
  refreshes: Refreshes;
}

export function jobView(job: Job): JobView {
  const { doing, called, refreshes } = JOB_KINDS.get(job.kind) ?? UNKNOWN;
  const input = job.input && { ...job.input };
  // Longer than all else, and shown nowhere.
  delete input?.['otherPlan'];
  return { ...job, input, doing, called, refreshes };
}

/** Work that a later version of the application put in. */
const UNKNOWN = {
  doing: 'Unknown work on',
  called: 'Work of an unknown kind',
  refreshes: 'nothing',
} as const;
