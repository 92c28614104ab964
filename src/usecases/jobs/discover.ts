import * as v from 'valibot';
import { keepResult } from '../../store/jobs.ts';
import { acceptedCertificates } from '../../store/sites.ts';
import { jobKind } from './kind.ts';

/** Pages that one look at a site finds at most, unless told otherwise. */
export const MOST_FOUND = 200;

/** Looks for a site's pages, by its sitemap or its links. */
export const discover = jobKind({
  id: 'discover',
  doing: 'Looking for pages at',
  called: 'Looking for pages',
  refreshes: 'nothing',
  startedFor: 'itself',
  input: v.object(
    { url: v.string(), limit: v.optional(v.number(), MOST_FOUND) },
    'No address was given to look for pages at.',
  ),
  async run({ database, job, carry }, { url, limit }) {
    const accepted = await acceptedCertificates(database);
    const { found } = await carry({ kind: 'discover', pageName: url, url, limit, accepted });
    return { keep: (queries) => keepResult(queries, job.id, { found }) };
  },
});
