import { latestYardstick } from '../../store/conditions.ts';
import { settingsOf, visitOf } from '../../store/settings.ts';
import { acceptedCertificates } from '../../store/sites.ts';
import { keepMeasurement } from '../keep.ts';
import { jobKind, NO_INPUT, pageOf } from './kind.ts';

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
    await keepMeasurement(database, page.id, conditions, result);
    await read('rebind plan', page.id, conditions.id);
  },
});
