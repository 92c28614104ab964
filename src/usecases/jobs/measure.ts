import { latestYardstick } from '../../store/conditions.ts';
import { Trouble } from '../../engine/errors.ts';
import { areSecretsLost, settingsOf, visitOf } from '../../store/settings.ts';
import { acceptedCertificates } from '../../store/sites.ts';
import { keepingMeasurement } from '../keep.ts';
import { jobKind, NO_INPUT, pageOf } from './kind.ts';

const LOST =
  'What you gave to be signed in with cannot be read here: its keys are not in a backup. Nothing stored was changed. Give it again under “How it is measured”, or save that without it to measure as any visitor.';

/** Captures the live page and measures what was captured in replay. */
export const measure = jobKind({
  id: 'measure',
  doing: 'Measuring',
  called: 'Measuring',
  refreshes: 'its page',
  startedFor: 'many pages',
  input: NO_INPUT,
  async run(work) {
    const { database, conditions, carry, read } = work;
    const page = await pageOf(work);
    // As a visitor it would be another page than the one that was asked for.
    if (await areSecretsLost(database, page.id)) throw new Trouble('input', LOST);
    const [accepted, settings, visit, yardstick] = await Promise.all([
      acceptedCertificates(database),
      settingsOf(database, page.id),
      visitOf(database, page.id),
      latestYardstick(database),
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
    return {
      keep: keepingMeasurement(page.id, conditions, result),
      afterwards: async () => {
        await read('rebind decisions', page.id, conditions.id);
        // What is not kept is read again.
        await read('script facts', page.id, conditions.id).catch(() => undefined);
      },
    };
  },
});
