import * as v from 'valibot';
import { Trouble } from '../../engine/errors.ts';
import { addCapture } from '../../store/captures.ts';
import { latestYardstick } from '../../store/conditions.ts';
import { setJobPage } from '../../store/jobs.ts';
import { DEFAULT_SETTINGS } from '../../store/settings.ts';
import { ensurePage } from '../../store/sites.ts';
import { deleteUpload, hasUpload } from '../../store/uploads.ts';
import { keepingMeasurement, type Keep } from '../keep.ts';
import { withUploadAsFile } from '../uploads.ts';
import { jobKind } from './kind.ts';

/** Makes a page with its capture of a HAR file; with bodies it is measured in replay at once. */
export const importHar = jobKind({
  id: 'import',
  doing: 'Reading',
  called: 'Reading the HAR file',
  refreshes: 'its page',
  startedFor: 'itself',
  input: v.object({ uploadId: v.number() }, 'The file is not kept any more. Choose it again.'),
  async run({ database, job, conditions, carry }, { uploadId }) {
    if (!(await hasUpload(database, uploadId)))
      throw new Trouble('input', `The file ${job.pageName} is not kept any more. Choose it again.`);
    const { capture, bodies, canReplay } = await withUploadAsFile(database, uploadId, (path) =>
      carry({ kind: 'read-har', pageName: job.pageName, path }),
    );
    const page = await ensurePage(database, capture.url, capture.title || capture.url);
    await setJobPage(database, job.id, page.id);
    let keep: Keep<unknown> = (queries) => addCapture(queries, page.id, capture, bodies, null);
    if (canReplay) {
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
      keep = keepingMeasurement(page.id, conditions, { capture, bodies, state: null, measurement });
    }
    return {
      async keep(queries) {
        await keep(queries);
        // Until all of it is stored the file is needed: it may have to be tried again.
        await deleteUpload(queries, uploadId);
      },
    };
  },
});
