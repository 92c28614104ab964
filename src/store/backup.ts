import { existsSync } from 'node:fs';
import { mkdir, mkdtemp, open, readdir, rename, rm, stat } from 'node:fs/promises';
import { basename, dirname, join } from 'node:path';
import type { Readable } from 'node:stream';
import { create, extract, list } from 'tar';
import { takeLock } from '../locks/process-lock.ts';
import { checkSchema, DATABASE_FOLDER, OWNER_ONLY } from './database.ts';
import { ThreadedDatabase } from './threaded-database.ts';

/** Why no backup was written or put back; says what happened, what was kept and what to do. */
export class BackupTrouble extends Error {
  constructor(message: string) {
    super(message);
    this.name = 'BackupTrouble';
  }
}

/**
 * Writes a data folder's database into one compressed file. The file has its name only once it is on the disk whole.
 *
 * @returns its size in bytes
 * @throws LockedError while somebody holds the folder
 * @throws BackupTrouble when there is nothing to back up, or the file is there already
 */
export async function backUp(folder: string, file: string): Promise<number> {
  if (!existsSync(join(folder, DATABASE_FOLDER)))
    throw new BackupTrouble(`${folder} holds no data of Wistrel. Nothing was written.`);
  if (existsSync(file))
    throw new BackupTrouble(
      `${file} is there already, and was left as it is. Give another name, or move it away.`,
    );
  const release = takeLock(join(folder, 'wistrel.lock'), 'writing a backup');
  const part = `${file}.part`;
  try {
    await pack(folder, part);
    await onDisk(part);
    await rename(part, file);
    await onDisk(dirname(file));
    return (await stat(file)).size;
  } catch (error) {
    await rm(part, { force: true });
    throw error;
  } finally {
    release();
  }
}

/** Packs the database below a folder into one compressed file. */
function pack(folder: string, file: string): Promise<void> {
  return create({ file, cwd: folder, gzip: true, portable: true, mode: 0o600 }, [DATABASE_FOLDER]);
}

/**
 * A backup of a database that is open and goes on: what was stored when it was asked for, as the file that `restore`
 * reads. It is whole before anything of it is sent, and has no name on the disk any more: however sending it ends,
 * nothing of it is left.
 *
 * @param folder the data folder that it is in: copy and file lie there while they are made
 */
export async function backUpOpen(
  database: ThreadedDatabase,
  folder: string,
): Promise<{ sizeBytes: number; content: Readable }> {
  const copy = await mkdtemp(join(folder, COPIES));
  try {
    await database.copyTo(join(copy, DATABASE_FOLDER));
    const file = join(copy, 'backup.tgz');
    await pack(copy, file);
    const handle = await open(file, 'r');
    return { sizeBytes: (await handle.stat()).size, content: handle.createReadStream() };
  } finally {
    await rm(copy, { recursive: true, force: true, maxRetries: 5, retryDelay: 100 });
  }
}

/** Removes copies for backups whose process was killed while it made them. Call it when no other process holds the folder. */
export async function sweepCopies(folder: string): Promise<void> {
  for (const name of await readdir(folder))
    if (name.startsWith(COPIES)) await rm(join(folder, name), { recursive: true, force: true });
}

const COPIES = 'copy-for-backup-';

/**
 * Puts a backup in the place of a data folder's database. What was there is set aside, not deleted.
 *
 * @returns where the former database lies; null where there was none
 * @throws LockedError while somebody holds the folder
 * @throws LaterSchema when a later version wrote the backup
 * @throws BackupTrouble when the file is no backup, or a damaged one
 */
export async function restore(file: string, folder: string): Promise<string | null> {
  if (!existsSync(file)) throw new BackupTrouble(`${file} is not there. Nothing was changed.`);
  await mkdir(folder, { recursive: true, mode: OWNER_ONLY });
  const release = takeLock(join(folder, 'wistrel.lock'), 'putting back a backup');
  const beside = await mkdtemp(join(folder, 'putting-back-'));
  try {
    await readOut(file, beside);
    const former = join(folder, DATABASE_FOLDER);
    const aside = existsSync(former) ? await setAside(former) : null;
    await rename(join(beside, DATABASE_FOLDER), former);
    await onDisk(folder);
    return aside;
  } finally {
    await rm(beside, { recursive: true, force: true, maxRetries: 5, retryDelay: 100 });
    release();
  }
}

/** Unpacks a backup, and opens it once to see that it is one. */
async function readOut(file: string, into: string): Promise<void> {
  const damaged = (why: string) =>
    new BackupTrouble(
      `${basename(file)} is no backup of Wistrel, or a damaged one: ${why}. Nothing was changed. Choose another file.`,
    );
  try {
    // A file that breaks off in the middle is found before anything of it is written.
    await list({ file, strict: true });
    await extract({ file, cwd: into, strict: true, filter: isOfDatabase });
  } catch (error) {
    throw damaged(error instanceof Error ? error.message : String(error));
  }
  const unpacked = join(into, DATABASE_FOLDER);
  if (!existsSync(join(unpacked, 'PG_VERSION'))) throw damaged('it holds no database');
  const database = await ThreadedDatabase.open(unpacked, () => undefined).catch((error: unknown) => {
    throw damaged(error instanceof Error ? error.message : String(error));
  });
  try {
    const names = await checkSchema(database);
    if (names.size === 0) throw damaged('its database is of something else');
  } finally {
    await database.close();
  }
}

/** Plain files and folders below the database's own: a backup from anybody leads nowhere else. */
function isOfDatabase(path: string, entry: object): boolean {
  const kind = 'type' in entry ? entry.type : null;
  return (kind === 'File' || kind === 'Directory') && path.split('/')[0] === DATABASE_FOLDER;
}

/** Gives a database another name beside its own. @returns where it is */
async function setAside(database: string): Promise<string> {
  const aside = `${database}-before-${new Date().toISOString().replace(/[:.]/g, '-')}`;
  await rename(database, aside);
  return aside;
}

/** Until a file, or the names in a folder, are on the disk itself. */
async function onDisk(path: string): Promise<void> {
  const handle = await open(path, 'r');
  try {
    await handle.sync();
  } finally {
    await handle.close();
  }
}
