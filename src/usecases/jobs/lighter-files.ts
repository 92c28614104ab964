import { Trouble } from '../../engine/errors.ts';
import { keepMadeLighter, pagesBeside } from '../lighter-files.ts';
import { measuredPage } from '../stored-page.ts';
import { jobKind, NO_INPUT, pageOf } from './kind.ts';

/** Writes the images and fonts of a page anew, in fewer bytes. */
export const lighterImages = jobKind({
  id: 'lighter-images',
  doing: 'Lighter files for',
  called: 'Making lighter files',
  refreshes: 'its page',
  startedFor: 'many pages',
  input: NO_INPUT,
  async run(work) {
    const { database, conditions, carry } = work;
    const page = await pageOf(work);
    const measured = await measuredPage(database, page.id, conditions.id);
    if (!measured)
      throw new Trouble(
        'input',
        `The page was not measured under ${conditions.name}. Measure it first: lighter files are made from its capture.`,
      );
    const { captureId, capture, bodies, state } = measured;
    const made = await carry({
      kind: 'lighter-images',
      pageName: page.name,
      capture,
      bodies,
      state,
      others: await pagesBeside(database, page.id),
    });
    return { keep: (queries) => keepMadeLighter(queries, page.id, captureId, { capture, bodies }, made) };
  },
});
