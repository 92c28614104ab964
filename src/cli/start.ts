import { isAbsolute, join } from 'node:path';
import { LockedError } from '../locks/process-lock.ts';
import { openDatabase } from '../store/database.ts';
import { endTogether, isFree, readFlags, readPort, serveApplication, untilItAnswers } from './serve.ts';

/** ./wistrel start: the application without the demo. */
try {
  const flags = readFlags(process.argv.slice(2), ['port', 'data']);
  const port = readPort(flags['port'], 4180);
  const given = flags['data'];
  const data = given
    ? isAbsolute(given)
      ? given
      : join(process.env['WISTREL_CWD'] ?? process.cwd(), given)
    : join(process.cwd(), '.data', 'app');
  if (!(await isFree(port))) throw new Error(`Port ${port} is in use. Choose another one with --port N.`);
  // Opened once here, so that a held folder is told before anything starts.
  await (await openDatabase(data, 'starting the application')).close();
  const child = serveApplication(port, data);
  endTogether(child);
  await untilItAnswers(port, child);
  console.log(`Wistrel is at http://127.0.0.1:${port}/`);
} catch (error) {
  const held = error instanceof LockedError ? ' Choose another folder with --data DIR.' : '';
  process.stderr.write(`${error instanceof Error ? error.message : String(error)}${held}\n`);
  process.exit(2);
}
