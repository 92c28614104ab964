import { execFileSync } from 'node:child_process';
import { setTimeout as sleep } from 'node:timers/promises';
import { expect, it, vi } from 'vitest';
import { BUILT_IN_CONDITIONS } from '../../src/core/measure/conditions.ts';
import { launchChromium } from '../../src/engine/chromium/launch.ts';
import { openVisit } from '../../src/engine/chromium/visit.ts';
import { inPlainWords } from '../../src/engine/errors.ts';
import { measureCapture } from '../../src/engine/lab/measure-capture.ts';
import { Replay } from '../../src/engine/replay/replay-client.ts';
import { madeCapture } from './made-capture.ts';

const CONDITIONS = BUILT_IN_CONDITIONS.find((one) => one.id === 'office-desktop')!;

/** Processes that this one started, and whose command line holds a word. */
function started(word: string): number[] {
  const lines = execFileSync('ps', ['--ppid', String(process.pid), '-o', 'pid=,args='])
    .toString()
    .split('\n');
  return lines.filter((line) => line.includes(word)).map((line) => Number(line.trim().split(' ')[0]));
}

it.each([
  ['the page is closed', 'page'],
  ['Chromium is killed', 'browser'],
] as const)('what waits for an answer of a page is refused once %s', async (_, what) => {
  const chromium = await launchChromium();
  try {
    const visit = await openVisit(chromium.browser, CONDITIONS, { clock: null, state: null });
    const waiting = visit.whileOpen(new Promise<never>(() => undefined));
    const refused = expect(
      waiting.catch((error: unknown) => Promise.reject(inPlainWords(error))),
    ).rejects.toThrow('Chromium, or a page in it, ended in the middle of the work');
    if (what === 'page') await visit.close();
    else chromium.browser.process()!.kill('SIGKILL');
    await refused;
  } finally {
    await chromium.close();
  }
});

it('a page that is just being opened is refused at once when Chromium is killed', async () => {
  const chromium = await launchChromium();
  try {
    // Its driver hears of a new page later than that it is to be one, and waits half a minute between the two.
    vi.spyOn(chromium.browser, 'createBrowserContext').mockReturnValue(new Promise(() => undefined));
    const opening = openVisit(chromium.browser, CONDITIONS, { clock: null, state: null });
    const refused = expect(opening).rejects.toThrow('Connection closed');
    chromium.browser.process()!.kill('SIGKILL');
    await refused;
  } finally {
    await chromium.close();
  }
});

it('what fails because the replay has ended is told as that; otherwise it is told as what it is', async () => {
  const made = madeCapture({ 'https://made.test/': { body: 'Made', type: 'text/html', kind: 'document' } });
  const replay = await Replay.start({ ...made, arms: [{ name: 'as is', overrides: [] }], conditions: null });
  const refused = () => replay.whileRunning(Promise.reject(new Error('net::ERR_CONNECTION_REFUSED')));
  await expect(refused()).rejects.toThrow('ERR_CONNECTION_REFUSED');
  for (const pid of started('replay-process')) process.kill(pid, 'SIGKILL');
  // Nobody has told us yet that it has ended.
  await expect(refused()).rejects.toThrow('The replay process ended unexpectedly');
  await replay.close();
});

it('what is asked of a replay that has ended, before anybody has told us, is refused as that', async () => {
  const made = madeCapture({ 'https://made.test/': { body: 'Made', type: 'text/html', kind: 'document' } });
  const replay = await Replay.start({ ...made, arms: [{ name: 'as is', overrides: [] }], conditions: null });
  for (const pid of started('replay-process')) process.kill(pid, 'SIGKILL');
  // Without a turn of our own event loop, which would hear that it ended.
  execFileSync('sleep', ['0.3']);
  await expect(replay.chooseArm('as is')).rejects.toThrow('The replay process ended unexpectedly');
  await replay.close();
});

it.each([['replay-process'], ['--headless']])(
  'a measuring whose %s is killed ends by itself, whatever it was doing',
  async (word) => {
    const made = madeCapture({
      'https://made.test/': { body: '<title>Made</title><p>Made', type: 'text/html', kind: 'document' },
    });
    for (const afterMs of [500, 2_300, 2_700]) {
      let reached: () => void;
      const running = new Promise<void>((resolve) => (reached = resolve));
      const measuring = measureCapture({
        ...made,
        state: null,
        conditions: CONDITIONS,
        runs: 9,
        returnVisits: false,
        yardstick: null,
        onProgress: (step) => step.startsWith('Run 1') && reached(),
      });
      const outcome = measuring.then(
        () => 'done',
        (error: unknown) => inPlainWords(error).message,
      );
      await running;
      await sleep(afterMs);
      const victims = started(word);
      expect(victims.length).toBeGreaterThan(0);
      for (const pid of victims) process.kill(pid, 'SIGKILL');
      const ended = await Promise.race([outcome, sleep(20_000, `still running, killed after ${afterMs} ms`)]);
      expect(ended).toMatch(/ended.*Nothing stored was changed; try again/);
    }
  },
);
