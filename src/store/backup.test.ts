import { cpSync, existsSync, mkdtempSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { mkdir, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { create } from 'tar';
import { beforeAll, expect, it, vi } from 'vitest';
import { emptyData } from '../../tests/data-folders.ts';
import { LockedError, takeLock } from '../locks/process-lock.ts';
import { backUp, backUpOpen, restore, sweepCopies } from './backup.ts';
import { LaterSchema, migrate, openDatabase } from './database.ts';
import { ThreadedDatabase } from './threaded-database.ts';

const newFolder = () => mkdtempSync(join(tmpdir(), 'wistrel-backup-'));

/** Making a database takes seconds: one that holds a site is made once, and copied. */
let made: string;
beforeAll(async () => {
  made = emptyData();
  await sitesOf(made, 'quay');
});
function filledFolder(): string {
  const folder = newFolder();
  cpSync(made, folder, { recursive: true });
  return folder;
}

/** Adds a site to what a folder holds, and says which there are. */
async function sitesOf(folder: string, added?: string): Promise<string[]> {
  const database = await openDatabase(folder, 'a test');
  try {
    if (added)
      await database.query('INSERT INTO site (name, origin) VALUES ($1, $2)', [
        added,
        `https://${added}.test`,
      ]);
    return (await database.query<{ name: string }>('SELECT name FROM site ORDER BY id')).map(
      ({ name }) => name,
    );
  } finally {
    await database.close();
  }
}

it('brings back what was stored when it was written, and keeps what is in its place', async () => {
  const folder = filledFolder();
  const file = join(newFolder(), 'kept.tgz');
  expect(await backUp(folder, file)).toBe(statSync(file).size);
  expect(statSync(file).mode & 0o077).toBe(0);
  expect(await sitesOf(folder, 'pier')).toEqual(['quay', 'pier']);

  const aside = await restore(file, folder);
  expect(await sitesOf(folder)).toEqual(['quay']);
  expect(existsSync(join(aside!, 'PG_VERSION'))).toBe(true);
  expect(readdirSync(folder).filter((name) => /putting-back|\.lock/.test(name))).toEqual([]);

  const elsewhere = join(newFolder(), 'new');
  expect(await restore(file, elsewhere)).toBeNull();
  expect(await sitesOf(elsewhere)).toEqual(['quay']);
});

it('is made of a database that goes on, and holds what was stored when it was asked for', async () => {
  const folder = filledFolder();
  const file = join(newFolder(), 'running.tgz');
  const database = await openDatabase(folder, 'a test');
  const add = (name: string) =>
    database.query('INSERT INTO site (name, origin) VALUES ($1, $1)', [`https://${name}.test`]);
  await add('pier');
  const [{ sizeBytes, content }] = await Promise.all([
    backUpOpen(database, folder),
    database.query('SELECT 1'),
  ]);
  await add('later');
  await writeFile(file, content);
  expect(statSync(file).size).toBe(sizeBytes);
  expect(await database.query('SELECT 1 FROM site')).toHaveLength(3);
  // One that nobody takes to its end is given up, and nothing is left of any.
  const { content: given } = await backUpOpen(database, folder);
  given.destroy();
  const copies = () => readdirSync(folder).filter((name) => name.startsWith('copy-'));
  expect(copies()).toEqual([]);

  // Where it cannot be made, or its process was killed, nothing is left either.
  vi.spyOn(database, 'copyTo').mockRejectedValueOnce(new Error('no space left'));
  await expect(backUpOpen(database, folder)).rejects.toThrow('no space left');
  expect(copies()).toEqual([]);
  await mkdir(join(folder, 'copy-for-backup-killed', 'database'), { recursive: true });
  await sweepCopies(folder);
  expect(copies()).toEqual([]);
  await database.close();

  const elsewhere = newFolder();
  await restore(file, elsewhere);
  expect(await sitesOf(elsewhere)).toEqual(['quay', 'https://pier.test']);
});

it('is not written over a file, of nothing, or of what somebody holds', async () => {
  const folder = filledFolder();
  const file = join(newFolder(), 'kept.tgz');
  await expect(backUp(newFolder(), file)).rejects.toThrow('holds no data of Wistrel. Nothing was written.');
  writeFileSync(file, 'mine');
  await expect(backUp(folder, file)).rejects.toThrow('is there already, and was left as it is');
  expect(readFileSync(file, 'utf8')).toBe('mine');
  const release = takeLock(join(folder, 'wistrel.lock'), 'the application');
  await expect(backUp(folder, `${file}2`)).rejects.toThrow(LockedError);
  await expect(restore(file, folder)).rejects.toThrow(LockedError);
  release();
  expect(existsSync(`${file}2`)).toBe(false);
});

it('is refused where it is none, damaged, or leads out of the folder; nothing is changed then', async () => {
  const folder = filledFolder();
  const [file, made] = [join(newFolder(), 'made.tgz'), newFolder()];
  await expect(restore(file, folder)).rejects.toThrow('is not there. Nothing was changed.');
  writeFileSync(file, 'words');
  await expect(restore(file, folder)).rejects.toThrow('is no backup of Wistrel, or a damaged one');

  await mkdir(join(made, 'database'));
  writeFileSync(join(made, 'database', 'PG_VERSION'), '17');
  await create({ file, cwd: made, gzip: true }, ['database']);
  await expect(restore(file, folder)).rejects.toThrow('is no backup of Wistrel, or a damaged one');

  const whole = join(made, 'whole.tgz');
  await backUp(folder, whole);
  const bytes = readFileSync(whole);
  writeFileSync(file, bytes.subarray(0, bytes.length / 2));
  await expect(restore(file, folder)).rejects.toThrow('is no backup of Wistrel, or a damaged one');

  writeFileSync(join(made, 'outside'), 'out');
  await create({ file, cwd: join(made, 'database'), gzip: true, preservePaths: true }, ['../outside']);
  await expect(restore(file, folder)).rejects.toThrow('it holds no database');
  expect(await sitesOf(folder)).toEqual(['quay']);
  expect(readdirSync(folder).filter((name) => /before|putting-back/.test(name))).toEqual([]);
});

it('is refused when a later version wrote it', async () => {
  const [folder, file] = [filledFolder(), join(newFolder(), 'later.tgz')];
  const later = await openDatabase(folder, 'a test');
  await later.query("INSERT INTO migration (name) VALUES ('999_later.sql')");
  await later.close();
  await backUp(folder, file);
  await expect(restore(file, newFolder())).rejects.toThrow(LaterSchema);
});

it('is made by itself before what is stored changes its form', async () => {
  const folder = newFolder();
  const before = await ThreadedDatabase.open(join(folder, 'database'), () => undefined);
  await migrate(before, '012');
  await before.query("INSERT INTO site (name, origin) VALUES ('quay', 'https://quay.test')");
  await before.close();

  expect(await sitesOf(folder)).toEqual(['quay']);
  const copy = await ThreadedDatabase.open(join(folder, 'database-before-update'), () => undefined);
  const names = await copy.query<{ name: string }>('SELECT name FROM migration ORDER BY name');
  expect(names.at(-1)!.name).toBe('011_leases_and_uploads.sql');
  expect(await copy.query('SELECT name FROM site')).toEqual([{ name: 'quay' }]);
  await copy.close();

  const madeAt = statSync(join(folder, 'database-before-update')).mtimeMs;
  await sitesOf(folder, 'pier');
  expect(statSync(join(folder, 'database-before-update')).mtimeMs).toBe(madeAt);
  expect(existsSync(join(folder, 'wistrel.lock'))).toBe(false);
});
