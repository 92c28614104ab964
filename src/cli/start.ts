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
} from './serve.ts';

/** ./wistrel start: the application without the demo. */
try {
  const flags = readFlags(process.argv.slice(2), ['port', 'data']);
  const port = readPort(flags['port'], 4180);
  const data = readDataFolder(flags['data'], 'app');
  if (!(await isFree(port))) throw new Error(`Port ${port} is in use. Choose another one with --port N.`);
  // Opened once here, so that a held folder is told before anything starts.
  await (await openDatabase(data, 'starting the application')).close();
  const child = serveApplication(port, data);
  endTogether(child);
  await untilItAnswers(port, child);
  console.log(`Wistrel is at http://127.0.0.1:${port}/`);
} catch (error) {
  endWithReason(error);
}
