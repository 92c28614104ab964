import { openDatabase } from '../store/database.ts';
import {
  endTogether,
  endWithReason,
  needPort,
  readDataFolder,
  readFlags,
  readPort,
  serveApplication,
  untilItAnswers,
  warnAsRoot,
} from './serve.ts';

/** ./wistrel start: the application without the demo. */
try {
  const flags = readFlags(process.argv.slice(2), ['port', 'data']);
  const port = readPort(flags['port'], 4180);
  const data = readDataFolder(flags['data'], 'app');
  await needPort(port);
  // Opened once here, so that a held folder is told before anything starts.
  await (await openDatabase(data, 'starting the application')).close();
  const served = serveApplication(port, data);
  endTogether(served.child);
  await untilItAnswers(served);
  warnAsRoot();
  console.log(`Wistrel is at ${served.address}`);
} catch (error) {
  endWithReason(error);
}
