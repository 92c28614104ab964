import { isAbsolute, join } from 'node:path';
import { bytes } from '../core/path/words.ts';
import { LockedError } from '../locks/process-lock.ts';
import { backUp, restore } from '../store/backup.ts';
import { endWithReason, readDataFolder, readFlags } from './serve.ts';

/** ./wistrel backup FILE and ./wistrel restore FILE: the data folder's database as one file, and back. */
const [command, given, ...rest] = process.argv.slice(2);
try {
  if (!given || given.startsWith('--'))
    throw new Error(`Which file? Usage: ./wistrel ${command} FILE [--data DIR]`);
  const folder = readDataFolder(readFlags(rest, ['data'])['data'], 'app');
  const file = isAbsolute(given) ? given : join(process.env['WISTREL_CWD'] ?? process.cwd(), given);
  if (command === 'backup') {
    const size = await backUp(folder, file);
    console.log(`${file} holds all that was stored in ${folder}: ${bytes(size)}, on the disk.`);
  } else {
    const aside = await restore(file, folder);
    const former = aside
      ? ` What was there before is in ${aside}: delete it once you do not want it back.`
      : '';
    console.log(
      `${folder} is as it was when ${file} was written.${former} What was given to be signed in with is in no backup: where its keys are not here, give it again.`,
    );
  }
} catch (error) {
  if (!(error instanceof LockedError)) endWithReason(error);
  endWithReason(
    command === 'backup'
      ? `${error.message} Nothing was done: end it first, or let it write the backup itself (Ctrl K in it, “Back up”).`
      : `${error.message} Nothing was done: end it first, so that nothing changes meanwhile.`,
  );
}
