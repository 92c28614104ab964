import { openDatabase } from '../store/database.ts';
import {
  endTogether,
  endWithReason,
  isFree,
  readDataFolder,
  readFlags,
  readPort,
  serveApplication,
  untilItAnswers,
} from '../cli/serve.ts';
import { demoCertificate, DEMO_PORTS } from './certificate.ts';
import { seedDatabase } from './seed-database.ts';
import { SKERRAVANE } from './site/names.ts';
import { startDemoSite } from './site/server.ts';

/** ./wistrel demo: the demo site, the application with the demo data, and where to find them. */
try {
  const flags = readFlags(process.argv.slice(2), ['port', 'data']);
  const port = readPort(flags['port'], 4180);
  const data = readDataFolder(flags['data'], 'demo');
  for (const taken of [port, DEMO_PORTS.httpsPort, DEMO_PORTS.httpPort]) {
    if (!(await isFree(taken))) {
      throw new Error(
        `Port ${taken} is in use${taken === port ? ': choose another one with --port N' : ' and the demo site needs it: end what holds it'}.`,
      );
    }
  }
  const certificate = await demoCertificate(data);
  const site = await startDemoSite({ names: SKERRAVANE, certificate, ...DEMO_PORTS });
  const database = await openDatabase(data, 'preparing the demo');
  await seedDatabase(database, new URL(site.url('/')).origin, certificate.publicKeyHash);
  await database.close();
  const child = serveApplication(port, data);
  endTogether(child, () => site.close());
  await untilItAnswers(port, child);
  console.log(`Wistrel is at          http://127.0.0.1:${port}/`);
  console.log(
    `The demo site is at    ${site.plainUrl('/')} (by hand) and ${site.url('/')} (as it is measured)`,
  );
} catch (error) {
  endWithReason(error);
}
