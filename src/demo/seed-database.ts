import { readOwnChecks } from '../core/checks/own-check.ts';
import { DEFAULT_CONDITIONS_ID, findConditions } from '../core/measure/conditions.ts';
import {
  ensurePage,
  ensureSite,
  acceptCertificate,
  listSites,
  markSeeded,
  setFamilies,
} from '../store/sites.ts';
import type { Database } from '../store/database.ts';
import { foldMark } from '../usecases/fold-hash.ts';
import { keepFold, keepMeasurement, keepTrial } from '../usecases/keep.ts';
import { keepMadeLighter } from '../usecases/lighter-files.ts';
import { keepRehearsed } from '../usecases/rehearsal.ts';
import { keepRuleGains } from '../store/rule-gains.ts';
import { saveOwnChecks } from '../store/own-checks.ts';
import { readFieldFile } from '../core/field/field-figures.ts';
import { keepFieldFigures } from '../store/field-figures.ts';
import { readSeed, visitorsFile } from './seed-file.ts';
import { SKERRAVANE } from './site/names.ts';
import { DEMO_PAGES, HOME_CHECKS } from './site/pages.ts';
import { hostNames } from './site/server.ts';

/** Puts the demo site, its pages and the seed's results into a database that does not have them yet. */
export async function seedDatabase(database: Database, origin: string, publicKeyHash: string): Promise<void> {
  const { port } = new URL(origin);
  const hosts = hostNames(SKERRAVANE).map((name) => `${name}:${port}`);
  await acceptCertificate(database, hosts, publicKeyHash);
  if ((await listSites(database)).some((site) => site.origin === origin)) return;
  const site = await ensureSite(database, origin, 'Skerravane Ferries');
  const families = new Map<number, string>();
  for (const { path, name, family } of DEMO_PAGES)
    families.set((await ensurePage(database, origin + path, name)).id, family);
  await setFamilies(database, families);
  const seed = readSeed();
  if (new URL(seed.url).origin !== origin) return;
  const page = await ensurePage(database, seed.url, 'Home');
  const conditions = findConditions(DEFAULT_CONDITIONS_ID)!;
  const { captureId } = await keepMeasurement(database, page.id, conditions, seed.measure);
  await keepFold(database, page.id, captureId, seed.fold);
  const { capture, bodies, state } = seed.measure;
  const { lighter } = seed.lighter;
  await database.transaction((queries) =>
    keepMadeLighter(queries, page.id, captureId, { capture, bodies }, seed.lighter),
  );
  await saveOwnChecks(database, page.id, HOME_CHECKS, null);
  const { rehearsal, pictures } = seed.rehearse;
  await keepRehearsed(
    database,
    {
      pageId: page.id,
      capture: { ...capture, lighter },
      state,
      fold: seed.fold.fold,
      checks: readOwnChecks(HOME_CHECKS),
    },
    seed.plan,
    rehearsal,
    pictures,
  );
  const of = {
    captureId,
    plan: rehearsal.plan,
    ownPlan: false,
    decided: null,
    foldHash: foldMark(seed.fold.fold),
  };
  await keepTrial(database, page.id, of, seed.trial);
  await database.transaction((queries) =>
    keepRuleGains(queries, page.id, { ...of, conditions }, seed.ruleGains.gains),
  );
  const { figures } = readFieldFile(visitorsFile(origin));
  await database.transaction((queries) => keepFieldFigures(queries, figures));
  await markSeeded(database, site.id, seed.date);
}
