import { cpSync, existsSync, mkdirSync, mkdtempSync, renameSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { seedDatabase } from '../src/demo/seed-database.ts';
import { DATABASE_FOLDER, openDatabase, type Database } from '../src/store/database.ts';

/** Where data folders are made that tests copy: making one takes many times as long. Set for a whole run. */
export const MADE = 'WISTREL_TEST_DATA';
/** The demo's home page as the seed has it. */
export const DEMO_ORIGIN = 'https://www.skerravane.localhost:9443';

const seed = (database: Database) => seedDatabase(database, DEMO_ORIGIN, `${'x'.repeat(43)}=`);

/** A new data folder that holds nothing yet. */
export const emptyData = () => mkdtempSync(join(tmpdir(), 'wistrel-data-'));

/** A new data folder whose database holds the demo. */
export async function seededData(): Promise<string> {
  const folder = emptyData();
  const made = join(process.env[MADE]!, 'seeded');
  await once(made, async (part) => {
    const database = await openDatabase(part, 'the tests');
    await seed(database);
    await database.close();
  });
  cpSync(join(made, DATABASE_FOLDER), join(folder, DATABASE_FOLDER), { recursive: true });
  return folder;
}

/** Makes a folder by whoever is first of all test files; the others wait for it. */
async function once(folder: string, make: (part: string) => Promise<void>): Promise<void> {
  try {
    mkdirSync(`${folder}.claimed`);
  } catch {
    while (!existsSync(folder)) await sleep(100);
    return;
  }
  const part = `${folder}.part`;
  await make(part);
  renameSync(part, folder);
}
