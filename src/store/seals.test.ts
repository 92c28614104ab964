import { cpSync, existsSync, readdirSync, readFileSync, rmSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { emptyData } from '../../tests/data-folders.ts';
import { exchangeOf } from '../../tests/engine/defaults.ts';
import { madeCapture } from '../../tests/engine/made-capture.ts';
import { giveBack } from '../core/har/held-back.ts';
import { addCapture, findCapture } from './captures.ts';
import { openDatabase, type Database } from './database.ts';
import { areSecretsLost, DEFAULT_SETTINGS, saveSettings, secretsOf } from './settings.ts';
import { deletePages, ensurePage } from './sites.ts';
import { captureSecretsOf, isSignedIn, isStateLost, stateOf } from './states.ts';

const SECRETS = {
  headers: [['X-Quay', 'hunter-seven']] as [string, string][],
  cookies: [{ name: 'sid', value: 'hunter-eight' }],
};
const NONE = { headers: [], cookies: [] };
const STATE = {
  cookies: [
    { name: 'sid', value: 'hunter-nine', domain: 'quay.test', path: '/', secure: true, httpOnly: true },
  ],
  storage: [],
};

let folder: string;
let database: Database;
let pageId: number;
beforeEach(async () => {
  folder = emptyData();
  database = await openDatabase(folder, 'a test');
  pageId = (await ensurePage(database, 'https://quay.test/', 'Quay')).id;
});
afterEach(async () => {
  await database.close();
  rmSync(folder, { recursive: true, force: true });
});

const save = (secrets: typeof SECRETS | typeof NONE) =>
  saveSettings(database, pageId, DEFAULT_SETTINGS, secrets);
const keys = () => (existsSync(join(folder, 'keys')) ? readdirSync(join(folder, 'keys')) : []);

/** A capture that was made signed in. */
function keepCapture(): Promise<number> {
  const { capture, bodies } = madeCapture({
    'https://quay.test/': { body: '<p>Crew', type: 'text/html', kind: 'document' },
  });
  const exchange = exchangeOf({
    ...capture.exchanges[0]!,
    requestHeaders: [
      ['Accept', 'text/html'],
      ['X-Quay', 'hunter-seven'],
      ['Cookie', 'sid=hunter-nine'],
    ],
  });
  return database.transaction((queries) =>
    addCapture(queries, pageId, { ...capture, exchanges: [exchange] }, bodies, STATE),
  );
}

/** Whether a text stands anywhere in the files of the database. */
async function isInTheDatabase(text: string): Promise<boolean> {
  await database.query('CHECKPOINT');
  const files = readdirSync(join(folder, 'database'), { recursive: true, encoding: 'utf8' });
  return files
    .map((name) => join(folder, 'database', name))
    .some((file) => statSync(file).isFile() && readFileSync(file).includes(text));
}

describe('what lets somebody in', () => {
  it('comes back as it was given, and stands nowhere in the database', async () => {
    await save(SECRETS);
    const captureId = await keepCapture();
    expect(await secretsOf(database, pageId)).toEqual(SECRETS);
    expect(await stateOf(database, captureId)).toEqual(STATE);
    expect(await areSecretsLost(database, pageId)).toBe(false);
    expect(await isStateLost(database, captureId)).toBe(false);
    const stored = (await findCapture(database, captureId))!.capture;
    const sent = ({ exchanges }: typeof stored) => exchanges[0]!.requestHeaders.map(([, value]) => value);
    expect(sent(stored)).toEqual(['text/html', 'kept apart', 'kept apart']);
    const { held } = (await captureSecretsOf(database, captureId))!;
    expect(sent(giveBack(stored, held))).toEqual(['text/html', 'hunter-seven', 'sid=hunter-nine']);
    expect(await isInTheDatabase('kept apart')).toBe(true);
    expect(await isInTheDatabase('hunter')).toBe(false);
    expect(keys()).toHaveLength(2);
    for (const key of keys()) expect(statSync(join(folder, 'keys', key)).mode & 0o777).toBe(0o600);
  });

  it('is nothing in a copy of the database alone', async () => {
    await save(SECRETS);
    const captureId = await keepCapture();
    await database.close();
    const other = emptyData();
    cpSync(join(folder, 'database'), join(other, 'database'), { recursive: true });
    database = await openDatabase(other, 'a test');
    expect(await secretsOf(database, pageId)).toEqual(NONE);
    expect(await stateOf(database, captureId)).toBeNull();
    // It is told, and still told from a visitor's.
    expect(await areSecretsLost(database, pageId)).toBe(true);
    expect(await isStateLost(database, captureId)).toBe(true);
    expect(await isSignedIn(database, captureId)).toBe(true);
    rmSync(other, { recursive: true, force: true });
  });

  it('is destroyed for good where it is cleared, with what it brought in', async () => {
    await save(SECRETS);
    const captureId = await keepCapture();
    const before = keys();
    await save({ ...SECRETS, cookies: [] });
    // Others took the place of the first: that key is gone, the capture's is not.
    expect(keys()).toHaveLength(2);
    expect(keys()).not.toEqual(before);
    expect(await stateOf(database, captureId)).toEqual(STATE);
    await save(NONE);
    expect(keys()).toEqual([]);
    expect(await secretsOf(database, pageId)).toEqual(NONE);
    expect(await stateOf(database, captureId)).toBeNull();
    expect(await isSignedIn(database, captureId)).toBe(true);
  });

  it('goes with its page', async () => {
    await save(SECRETS);
    await keepCapture();
    await deletePages(database, [pageId]);
    expect(keys()).toEqual([]);
  });

  it('is sealed when a version before stored it as it was', async () => {
    const captureId = await keepCapture();
    await database.query('UPDATE capture_state SET sealed = NULL, data = $1', [JSON.stringify(STATE)]);
    await database.query('INSERT INTO page_secret (page_id, data) VALUES ($1, $2)', [
      pageId,
      JSON.stringify(SECRETS),
    ]);
    await database.close();
    database = await openDatabase(folder, 'a test');
    expect(await secretsOf(database, pageId)).toEqual(SECRETS);
    expect(await stateOf(database, captureId)).toEqual(STATE);
    const rows = await database.query(
      'SELECT data FROM page_secret UNION ALL SELECT data FROM capture_state',
    );
    expect(rows).toEqual([{ data: null }, { data: null }]);
  });
});
