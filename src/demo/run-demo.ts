import { openDatabase } from '../store/database.ts';
import {
  endTogether,
  endWithReason,
  isFree,
  needPort,
  readDataFolder,
  readFlags,
  readPort,
  serveApplication,
  untilItAnswers,
  warnAsRoot,
} from '../cli/serve.ts';
import { demoCertificate, demoPorts } from './certificate.ts';
import { seedDatabase } from './seed-database.ts';
import { SKERRAVANE } from './site/names.ts';
import { startDemoSite } from './site/server.ts';

/** ./wistrel demo: the demo site, the application with the demo data, and where to find them. */
try {
  const flags = readFlags(process.argv.slice(2), ['port', 'data']);
  const port = readPort(flags['port'], 4180);
  const data = readDataFolder(flags['data'], 'demo');
  await needPort(port);
  const ports = demoPorts();
  for (const taken of [ports.httpsPort, ports.httpPort])
    if (!(await isFree(taken)))
      throw new Error(`Port ${taken} is in use and the demo site needs it: end what holds it.`);
  const certificate = await demoCertificate(data);
  const site = await startDemoSite({ names: SKERRAVANE, certificate, ...ports });
  const database = await openDatabase(data, 'preparing the demo');
  await seedDatabase(database, new URL(site.url('/')).origin, certificate.publicKeyHash);
  await database.close();
  const served = serveApplication(port, data);
  endTogether(served.child, () => site.close());
  await untilItAnswers(served);
  warnAsRoot();
  console.log(`Wistrel is at          ${served.address}`);
  console.log(
    `The demo site is at    ${site.plainUrl('/')} (by hand) and ${site.url('/')} (as it is measured)`,
  );
} catch (error) {
  endWithReason(error);
}
