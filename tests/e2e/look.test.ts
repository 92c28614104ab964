import { rmSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Key, type WebDriver } from 'selenium-webdriver';
import { seededData } from '../data-folders.ts';
import { startBrowser, startWistrel, User, type RunningDemo } from './application.ts';
import { accessibilityFaults, faultsOf, lookThrough, type Glass } from './look.ts';

let folder: string;
let demo: RunningDemo;
let driver: WebDriver;
let user: User;
/** It answers nothing: what is measured there goes on measuring. */
let silent: Server;

beforeAll(async () => {
  silent = createServer(() => undefined);
  await new Promise<void>((resolve) => silent.listen(0, '127.0.0.1', resolve));
  // Nothing here asks its site anything: it need not wait for the demos of other files.
  folder = await seededData();
  demo = await startWistrel('start', folder);
  driver = await startBrowser(demo);
  user = new User(driver);
});
afterAll(async () => {
  await driver?.quit();
  await demo?.stop();
  rmSync(folder, { recursive: true, force: true });
  silent.closeAllConnections();
  silent.close();
});

/** Colours do not depend on the width, nor what is cut off on colours. */
const GLASSES: readonly Glass[] = [
  { width: 1280, dark: false },
  { width: 1280, dark: true },
  { width: 1024, dark: false },
  { width: 1600, dark: false },
  // As narrow as a laptop's window zoomed to 200 %.
  { width: 640, dark: false },
];

/** Looks at the screen as it stands in every width, light and dark. */
async function seenThroughAll(): Promise<string[]> {
  const found: string[] = [];
  for (const glass of GLASSES) {
    await lookThrough(driver, glass);
    await driver.sleep(250);
    const faults = [
      ...(await faultsOf(driver)),
      ...(glass.width === 1280 ? await accessibilityFaults(driver) : []),
    ];
    found.push(...faults.map((one) => `at ${glass.width} px${glass.dark ? ', dark' : ''}: ${one}`));
  }
  await lookThrough(driver, GLASSES[0]!);
  return found;
}

async function post(path: string, body: object): Promise<unknown> {
  const answer = await demo.ask(path, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(body),
  });
  expect(answer.status, await answer.clone().text()).toBeLessThan(300);
  return answer.json();
}

const STAGES = ['measure', 'map', 'fold', 'treat', 'prove', 'handoff'] as const;

describe('looked at in every width, light and dark, nothing is cut off, too small, too pale or upon something else', () => {
  it('on the board', async () => {
    await user.go(demo.url);
    await user.sentence();
    expect(await seenThroughAll()).toEqual([]);
  });

  it.each(STAGES)('on the stage %s, full', async (stage) => {
    await user.go(`${demo.url}/pages/1/${stage}`);
    await user.sentence();
    await driver.sleep(1_000);
    expect(await seenThroughAll()).toEqual([]);
  });

  it.each(STAGES)('on the stage %s of a page with nothing in it', async (stage) => {
    await user.go(`${demo.url}/pages/2/${stage}`);
    await user.sees('Measure');
    await driver.sleep(500);
    expect(await seenThroughAll()).toEqual([]);
  });

  it('where no return visits were timed yet', async () => {
    await user.go(`${demo.url}/pages/1/prove?visit=return`);
    await user.sees('Run the trial of return visits');
    expect(await seenThroughAll()).toEqual([]);
  });

  it('in dialogs', async () => {
    const found: string[] = [];
    for (const [path, ...presses] of [
      ['/', 'Add pages'],
      ['/', 'Add pages', 'A list'],
      ['/', 'Slow phone'],
      ['/', 'Slow phone', 'Copy Slow phone and change the copy'],
      ['/', 'What to do with Home'],
      ['/', 'What to do with Home', 'Put in a family'],
      ['/pages/1/measure', 'Visitors’ figures'],
      ['/pages/1/measure', 'How it is measured'],
    ] as const) {
      await user.go(demo.url + path);
      await user.sentence();
      for (const name of presses) await user.press(name);
      await driver.sleep(300);
      found.push(...(await seenThroughAll()).map((one) => `${presses.join(', ')}, ${one}`));
    }
    await user.go(`${demo.url}/pages/1/treat`);
    await user.sentence();
    await user.key('?');
    await user.sees('Keys');
    found.push(...(await seenThroughAll()).map((one) => `keys, ${one}`));
    await user.key(Key.ESCAPE);
    expect(found).toEqual([]);
  });

  it('while something runs, once it has failed, and where something is out of date', async () => {
    const { port } = silent.address() as AddressInfo;
    const add = async (url: string) => (await post('/api/pages', { url })) as { id: number };
    const [slow, gone] = [await add(`http://127.0.0.1:${port}/`), await add('http://127.0.0.1:9/gone')];
    const measure = (pageId: number) =>
      post('/api/jobs', { kind: 'measure', pageId, conditionsId: 'slow-phone' });
    const found: string[] = [];
    const look = async (what: string) =>
      found.push(...(await seenThroughAll()).map((one) => `${what}, ${one}`));

    await measure(gone.id);
    await user.go(`${demo.url}/pages/${gone.id}/measure`);
    await user.sees('could not', 60);
    await look('failed');
    await user.go(demo.url);
    await user.sentence();
    await look('failed, on the board');

    await measure(slow.id);
    await user.go(`${demo.url}/pages/${slow.id}/measure`);
    await user.sees('cancel', 30);
    await look('running');
    await user.go(demo.url);
    await user.sentence();
    await look('running, on the board');

    await user.go(`${demo.url}/pages/1/treat`);
    await user.sentence();
    await user.press('lib.js');
    await user.key('o');
    await user.sees('Back to the recommended plan');
    await look('a plan of one’s own');
    await user.go(`${demo.url}/pages/1/prove`);
    await user.sentence();
    await look('out of date');
    expect(found).toEqual([]);
  });
});
