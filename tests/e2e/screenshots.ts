import { mkdirSync } from 'node:fs';
import { writeFile } from 'node:fs/promises';
import { startBrowser, startWistrel, User } from './application.ts';

/** npm run screenshots: one picture of each main view at 1280×800, from the demo data. */
const VIEWS: readonly [name: string, path: string, until: string][] = [
  ['board', '/', 'Skerravane Ferries'],
  ['measure', '/pages/1/measure', 'First paint after'],
  ['map', '/pages/1/map', 'The bill'],
  ['fold', '/pages/1/fold', 'The fold needs'],
  ['treat', '/pages/1/treat', 'rules act'],
  ['prove', '/pages/1/prove', 'Treated, Home'],
  ['handoff', '/pages/1/handoff', 'rules to put in: '],
];

mkdirSync('docs/screenshots', { recursive: true });
const demo = await startWistrel();
const driver = await startBrowser(demo);
try {
  const user = new User(driver);
  for (const [name, path, until] of VIEWS) {
    await user.go(demo.url + path);
    await user.sees(until);
    await driver.wait(
      () =>
        driver.executeScript(
          'return [...document.images].every((one) => one.loading === "lazy" || (one.complete && one.naturalWidth))',
        ),
      20_000,
    );
    await driver.sleep(1_500);
    await writeFile(`docs/screenshots/${name}.png`, Buffer.from(await driver.takeScreenshot(), 'base64'));
  }
} finally {
  await driver.quit();
  await demo.stop();
}
