import { spawn } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, utimesSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { expect, it } from 'vitest';
import { LockedError, takeLock, waitForLock } from './process-lock.ts';

const place = () => join(mkdtempSync(join(tmpdir(), 'wistrel-lock-')), 'lock');

it('refuses a second holder and names the first', () => {
  const path = place();
  const release = takeLock(path, 'the application');
  expect(() => takeLock(path, 'the command line')).toThrow(LockedError);
  expect(() => takeLock(path, 'the command line')).toThrow(/the application/);
  release();
  takeLock(path, 'the command line')();
});

it('takes over from a process that has ended, or whose number another one has now', () => {
  const path = place();
  writeFileSync(path, JSON.stringify({ pid: 2 ** 22 - 3, startTicks: 1, what: 'gone', since: '' }));
  takeLock(path, 'me')();
  writeFileSync(
    path,
    JSON.stringify({ pid: process.pid, startTicks: 1, what: 'an older process', since: '' }),
  );
  takeLock(path, 'me')();
  writeFileSync(path, 'not even JSON');
  takeLock(path, 'me')();
});

it('waits for the holder and says for whom', async () => {
  const path = place();
  const release = takeLock(path, 'measuring Home');
  const waitedFor: string[] = [];
  const waiting = waitForLock(path, 'measuring Timetable', (holder) => {
    waitedFor.push(holder.what);
    setTimeout(release, 20);
  });
  (await waiting)();
  expect(waitedFor).toEqual(['measuring Home']);
});

const GONE = JSON.stringify({ pid: 2 ** 22 - 3, startTicks: 1, what: 'gone', since: '' });

/** Takes the lock as soon as all are there, writes down that it has, holds it a little, and gives it back; again and again. */
const CONTENDER = `
import { appendFileSync, writeFileSync } from 'node:fs';
import { takeLock } from './src/locks/process-lock.ts';
const [path, log, start] = process.argv.slice(-3);
while (Date.now() < Number(start));
for (const until = Date.now() + 700; Date.now() < until;) {
  let release;
  try { release = takeLock(path, 'contending'); } catch { continue; }
  appendFileSync(log, 'in ' + process.pid + '\\n');
  for (const held = Date.now() + 3; Date.now() < held;);
  appendFileSync(log, 'out ' + process.pid + '\\n');
  // As a holder that was killed leaves it, half of the times.
  if (Math.random() < 0.5) release(); else writeFileSync(path, ${JSON.stringify(GONE)});
}`;

it('has one holder at a time, however many find one that has ended', async () => {
  const path = place();
  const log = join(dirname(path), 'log');
  writeFileSync(path, GONE);
  writeFileSync(log, '');
  const start = String(Date.now() + 4_000);
  const contenders = Array.from({ length: 4 }, () =>
    spawn(process.execPath, [
      '--import',
      'tsx',
      '--input-type=module',
      '-e',
      CONTENDER,
      '--',
      path,
      log,
      start,
    ]),
  );
  await Promise.all(contenders.map((one) => new Promise((resolve) => one.once('exit', resolve))));
  const lines = readFileSync(log, 'utf8').trim().split('\n');
  expect(lines.length).toBeGreaterThan(40);
  expect(new Set(lines.map((line) => line.split(' ')[1])).size).toBeGreaterThan(1);
  const pairs = lines.map((line, index) =>
    index % 2 ? lines[index - 1]!.replace('in', 'out') === line : line.startsWith('in'),
  );
  expect(pairs.indexOf(false)).toBe(-1);
});

it('leaves nothing beside it, and is not held up by what a killed one left', () => {
  const path = place();
  writeFileSync(path, GONE);
  writeFileSync(`${path}.set-aside`, '');
  utimesSync(`${path}.set-aside`, 0, 0);
  const release = takeLock(path, 'me');
  expect(readdirSync(dirname(path))).toEqual(['lock']);
  release();
  expect(readdirSync(dirname(path))).toEqual([]);
});
