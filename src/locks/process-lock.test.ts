import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
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
