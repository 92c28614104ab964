import { utimesSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { DATABASE_FOLDER, openDatabase } from '../store/database.ts';
import { makeReadyMade } from '../store/ready-made.ts';
import { makePrograms } from './programs.ts';

/**
 * Makes the programs and a database that holds nothing yet, and says where the programs are. `made` is as old as the
 * sources that were read.
 */
const root = process.cwd();
const folder = join(root, 'node_modules', '.cache', 'wistrel', 'programs');
const began = new Date();
makePrograms(root, folder);
writeFileSync(join(folder, 'made'), '');
process.env['WISTREL_PROGRAMS'] = folder;
await makeReadyMade(async (data) => {
  await (await openDatabase(data, 'what makes it')).close();
  return join(data, DATABASE_FOLDER);
});
utimesSync(join(folder, 'made'), began, began);
process.stdout.write(`${folder}\n`);
