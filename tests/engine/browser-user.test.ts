import { spawnSync } from 'node:child_process';
import { existsSync, readFileSync } from 'node:fs';
import { afterEach, expect, it } from 'vitest';
import { launchChromium } from '../../src/engine/chromium/launch.ts';

const NAME = 'WISTREL_CHROMIUM_USER';
afterEach(() => {
  Reflect.deleteProperty(process.env, NAME);
});

/** Only root can choose; and Chromium's sandbox needs what some systems forbid. */
const isRoot = process.getuid?.() === 0;
const mayBeSomebodyElse =
  isRoot &&
  spawnSync('setpriv', ['--reuid=nobody', '--regid=nogroup', '--clear-groups', 'unshare', '-U', 'true'])
    .status === 0;

it.runIf(mayBeSomebodyElse).each([[false], [true]])(
  'as root, Chromium runs as the user that is named, in its sandbox (untimed: %s)',
  async (untimed) => {
    process.env[NAME] = 'nobody';
    const { browser, close } = await launchChromium({ untimed });
    const { pid } = browser.process()!;
    const status = readFileSync(`/proc/${pid}/status`, 'utf8');
    const words = readFileSync(`/proc/${pid}/cmdline`, 'utf8').split('\0');
    const profile = words.find((one) => one.startsWith('--user-data-dir='))!.slice('--user-data-dir='.length);
    const nobody = spawnSync('id', ['-u', 'nobody'], { encoding: 'utf8' }).stdout.trim();
    expect(/^Uid:\s+(\d+)/m.exec(status)![1]).toBe(nobody);
    expect(words).not.toContain('--no-sandbox');
    const page = await browser.newPage();
    await page.setContent('<title>Quay</title>');
    expect(await page.title()).toBe('Quay');
    await close();
    expect(existsSync(profile)).toBe(false);
  },
);

it.runIf(isRoot)('a user that there is not is said to be none', async () => {
  process.env[NAME] = 'nobody-of-that-name';
  await expect(launchChromium()).rejects.toThrow(
    'There is no user “nobody-of-that-name” (WISTREL_CHROMIUM_USER). Name another one, or unset it.',
  );
});
