import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { By, Key, type WebDriver } from 'selenium-webdriver';
import type chrome from 'selenium-webdriver/chrome.js';
import { startBrowser, startWistrel, User, type RunningDemo } from './application.ts';

let demo: RunningDemo;
let driver: WebDriver;
let user: User;

beforeAll(async () => {
  demo = await startWistrel();
  driver = await startBrowser(demo);
  user = new User(driver);
});
afterAll(async () => {
  await driver?.quit();
  await demo?.stop();
});

const board = async () =>
  (await (await demo.ask(`/api/board`)).json()) as {
    sites: { name: string; pages: { id: number; name: string; url: string; family: string }[] }[];
  };

describe('the application’s own pages', () => {
  it('say what they may load, are framed by nobody, and stay within that', async () => {
    const answer = await demo.ask('/');
    const policy = answer.headers.get('content-security-policy')!;
    expect(policy).toContain("frame-ancestors 'none'");
    expect(answer.headers.get('x-frame-options')).toBe('DENY');
    const nonce = /'nonce-([^']+)'/.exec(policy)![1]!;
    const scripts = (await answer.text()).match(/<script[^>]*>/g)!;
    expect(scripts.filter((one) => !one.includes(`nonce="${nonce}"`))).toEqual([]);
    expect((await demo.ask('/')).headers.get('content-security-policy')).not.toBe(policy);
    const home = (await board()).sites.flatMap(({ pages }) => pages).find(({ id }) => id === 1)!;
    const captured = encodeURIComponent(new URL('/assets/hero.jpg', home.url).href);
    const picture = await demo.ask(`/api/pages/1/asset/picture?conditions=slow-phone&url=${captured}`);
    // What a capture holds keeps a stricter one.
    expect(picture.headers.get('content-security-policy')).toMatch(/^default-src 'none'.*sandbox$/);
    expect(picture.headers.get('x-frame-options')).toBe('DENY');

    await user.go(demo.url);
    await user.sees('Skerravane Ferries');
    // A script that stands in a page without the nonce does not run.
    await driver.executeScript(
      'const s = document.createElement("div"); s.innerHTML = "<img src=x onerror=\\"window.broken = 1\\">"; document.body.append(s);',
    );
    await driver.sleep(300);
    expect(await driver.executeScript('return window.broken ?? null')).toBeNull();
  });
});

describe('a check of one’s own', () => {
  it('is recorded by doing it in a window of its own, and stands in the list then', async () => {
    await user.go(`${demo.url}/pages/1/treat`);
    await (await user.finds(By.xpath("//summary[starts-with(., 'Checks of your own')]"))).click();
    const list = await user.finds(By.css('textarea'));
    const before = await list.getAttribute('value');
    const [here] = await driver.getAllWindowHandles();
    await user.press('Record a check by doing it');
    await driver.wait(async () => (await driver.getAllWindowHandles()).length === 2, 20_000);
    const [there] = (await driver.getAllWindowHandles()).filter((one) => one !== here);
    await driver.switchTo().window(there!);
    try {
      const frame = await user.finds(By.css('iframe'));
      await driver.wait(() => driver.findElement(By.id('see')).isEnabled(), 20_000);
      await driver.switchTo().frame(frame);
      await user.press('Agree');
      await driver.switchTo().defaultContent();
      await user.press('Note what is to be seen');
      await driver.switchTo().frame(frame);
      await driver.findElement(By.css('h1')).click();
      await driver.switchTo().defaultContent();
      await user.press('Use this check');
      await user.sees('Written into the list of checks.');
      await driver.close();
    } finally {
      await driver.switchTo().window(here!);
    }
    expect(await list.getAttribute('value')).toBe(
      `${before}\npress Agree, see “To the islands, in every weather”`,
    );
  });
});

describe('what a screen shows first', () => {
  it.each([
    ['/', /First contentful paint takes [\d,]+ ms/, 'Timetable'],
    ['/pages/1/measure', /First paint after/, 'Speed Index'],
    ['/pages/1/map', /The bill/, 'lib.js'],
    ['/pages/1/fold', /The fold needs/, 'framework.css'],
    ['/pages/1/treat', /rules act/, 'lib.js'],
    ['/pages/1/prove', /Treated, Home/, 'Layout shift'],
    ['/pages/1/handoff', /rules? to put in: \d+ changes/, 'framework.css'],
  ])('stands in its document, before any script has run: %s', async (path, sentence, row) => {
    const html = await (await demo.ask(path)).text();
    const shown = html.replace(/<script.*?<\/script>/gs, '').replace(/<[^>]+>/g, '');
    expect(shown).toMatch(sentence);
    expect(shown).toContain(row);
  });

  it('says what is wrong with an address, and the server goes on', async () => {
    for (const path of ['/pages/999999/map', '/?conditions=none', '/pages/1/map?conditions=a&conditions=b']) {
      await user.go(demo.url + path);
      await user.sees(path.includes('999999') ? 'There is no such page' : 'There are no conditions');
    }
  });
});

describe('conditions', () => {
  it('are copied, changed within limits, chosen at once, and deleted again', async () => {
    await user.go(demo.url);
    await user.press('Slow phone');
    await user.press('Copy Slow phone and change the copy');
    await user.fill('conditions-name', 'Harbour wireless');
    await user.fill('downKbps', '900000');
    await user.press('Save');
    await user.sees('Rate down: at most 100,000.');
    await user.fill('downKbps', '2500');
    await user.press('Save');
    await user.sees('390×844 · 180 ms · 2.5 Mbps · CPU at 20 % speed');
    expect(await driver.getCurrentUrl()).toContain('conditions=harbour-wireless');
    await user.sees('None is measured under these conditions yet');
    await user.press('Harbour wireless');
    await user.press('Edit Harbour wireless');
    await user.press('Delete them');
    await user.sees('First contentful paint takes');
    expect(await driver.getCurrentUrl()).toContain('conditions=slow-phone');
  });
});

describe('how a page is measured', () => {
  it('is saved; a step that cannot be read is refused; secrets are never shown again', async () => {
    await user.go(`${demo.url}/pages/3/measure?conditions=slow-phone`);
    await user.press('How it is measured');
    await user.fill('steps', 'tap .accept');
    await user.press('Save');
    await user.sees('“tap .accept” is no step');
    await user.fill('steps', 'press .accept');
    await user.fill('cookies', 'session=very-secret; crew=1');
    await user.fill('headers', 'X-Crew: hidden-too');
    await user.press('Save');
    await user.doesNotSee('How this page is measured');
    await user.press('How it is measured');
    await user.sees('Signed in with X-Crew (●●●●), session (●●●●), crew (●●●●)');
    expect(await (await demo.ask(`/api/pages/3/settings`)).text()).not.toMatch(/very-secret|hidden-too/);
  });
});

describe('many pages', () => {
  it('are added by a list, all or none, with families guessed', async () => {
    await user.go(demo.url);
    await user.press('Add pages');
    await user.press('A list');
    await user.fill('urls', 'http://quay.localhost/news/a\nhttp://quay.localhost/news/b\nnowhere');
    await user.press('Add 3 pages');
    await user.sees('is not a full address.');
    expect((await board()).sites).toHaveLength(1);
    await user.fill('urls', 'http://quay.localhost/news/a\nhttp://quay.localhost/news/b');
    await user.press('Add 2 pages');
    await user.sees('quay.localhost');
    const families = async () => (await board()).sites[1]?.pages.map((page) => page.family);
    await expect.poll(families, { timeout: 10_000 }).toEqual(['news', 'news']);
    await user.fill('Show pages by name', '/news/b');
    await user.sees('Measure these 1');
    await user.press('Fold CSS for these 1');
    const said = async () => {
      const jobs = await (await demo.ask(`/api/jobs`)).json();
      return (jobs as { kind: string; message: string | null }[]).find((job) => job.kind === 'fold')?.message;
    };
    await expect.poll(said, { timeout: 30_000 }).toMatch(/was not measured yet. Measure it first/);
    await user.fill('Show pages by name', 'no such page');
    await user.sees('No page is called that.');
    await user.press('show all');
  });

  it('are found by the links of a page, and chosen from', async () => {
    const home = (await board()).sites[0]!.pages[0]!.url;
    await user.go(demo.url);
    await user.press('Add pages');
    await user.press('Sitemap or links');
    await user.fill('discover', home);
    await user.press('Look for pages');
    await user.sees('/timetable', 60);
    await user.key(Key.ESCAPE);
  });

  it('keep the board quick: of a thousand only those in sight are drawn', async () => {
    const pages = Array.from({ length: 1_000 }, (_, index) => ({
      url: `http://harbour.localhost/berth-${index}`,
      name: `Berth ${index}`,
    }));
    const added = await demo.ask(`/api/pages/many`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ pages }),
    });
    expect(await added.json()).toEqual({ added: 1_000 });
    await user.go(demo.url);
    await user.sees('Berth 0', 30);
    const drawn = await driver.findElements(By.css('.board-row:not(.head)'));
    expect(drawn.length).toBeLessThan(80);
    // Where its script is still to come, the board is not as high yet as it will be.
    await driver.wait(async () => {
      await driver.executeScript('window.scrollTo(0, document.body.scrollHeight)');
      return (await user.text()).includes('Berth 999');
    }, 60_000);
    await driver.navigate().refresh();
    await user.sentence();
    await driver.sleep(1_000);
    await user.sees('Berth 999', 5);
    await driver.executeScript('window.scrollTo(0, 0)');
    await user.fill('Show pages by name', 'Berth 777');
    await user.sees('Measure these 1');
    const site = (await board()).sites.findIndex((one) => one.pages.some((page) => page.name === 'Berth 0'));
    await demo.ask(`/api/sites/${site + 1}`, { method: 'DELETE' });
  });

  it('do what was pressed before their script was there, once', async () => {
    const chromium = driver as chrome.Driver;
    await chromium.sendDevToolsCommand('Emulation.setCPUThrottlingRate', { rate: 8 });
    try {
      await driver.executeScript('location.href = arguments[0]', `${demo.url}/pages/1/treat`);
      const pressed = () =>
        driver.executeScript(`
          const box = [...document.querySelectorAll('button')].find((one) => one.innerText.trim() === 'Only before first paint');
          box?.click();
          box?.dispatchEvent(new KeyboardEvent('keydown', { key: '?', bubbles: true }));
          return box !== undefined`);
      await driver.wait(pressed, 40_000);
      await user.sees('go to a stage of the page');
      await driver.sleep(500);
      expect(await user.text()).not.toContain('Only before first paint');
    } finally {
      await chromium.sendDevToolsCommand('Emulation.setCPUThrottlingRate', { rate: 1 });
    }
  });

  it('wait in a queue whose order can be changed', async () => {
    const jobs = async () =>
      (
        (await (await demo.ask(`/api/jobs`)).json()) as {
          id: number;
          pageName: string;
          state: string;
        }[]
      )
        .filter((job) => job.state === 'waiting')
        .map((job) => job.pageName);
    await demo.ask(`/api/jobs/many`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ kind: 'measure', pageIds: [1, 2, 3, 4], conditionsId: 'home-laptop' }),
    });
    await user.go(demo.url);
    await user.press('3 waiting', 30);
    await user.sees('Waiting, in this order');
    await user.press('Move Route to Orrask up');
    await expect.poll(jobs).toEqual(['Timetable', 'Route to Orrask', 'Booking']);
    for (let left = 3; left > 0; left--) {
      await user.press('take out');
      await expect.poll(async () => (await jobs()).length, { timeout: 10_000 }).toBe(left - 1);
      // The row that is gone may still be drawn: the next press is for another one.
      const rows = By.xpath("//button[normalize-space(.)='take out']");
      await expect
        .poll(async () => (await driver.findElements(rows)).length, { timeout: 10_000 })
        .toBe(left - 1);
    }
    await user.key(Key.ESCAPE);
    await user.press('cancel');
    await user.doesNotSee('Measuring Home', 20);
  });
});

describe('HAR files', () => {
  it('are written, and read again into a page that is measured in replay', async () => {
    const text = await (await demo.ask(`/api/pages/1/har?conditions=slow-phone`)).text();
    expect(JSON.parse(text).log.version).toBe('1.2');
    const file = join(mkdtempSync(join(tmpdir(), 'wistrel-har-')), 'other.har');
    // Another program's file of another site: the same exchanges under another name.
    writeFileSync(file, text.replaceAll('www.skerravane.localhost:9443', 'www.borrowed.localhost:9443'));
    await user.go(`${demo.url}/?conditions=home-laptop`);
    await user.press('Add pages');
    await user.press('HAR file');
    await (await user.finds(By.css('input[type=file]'))).sendKeys(file);
    await user.press('Read it');
    const painted = async () => {
      const view = await (await demo.ask(`/api/board?conditions=home-laptop`)).json();
      return (view as { sites: { name: string; pages: { paintMs: number | null }[] }[] }).sites.find((site) =>
        site.name.startsWith('www.borrowed'),
      )?.pages[0]?.paintMs;
    };
    await expect.poll(painted, { timeout: 240_000, interval: 2_000 }).toBeGreaterThan(0);
  });

  it('without bodies are listed, and what is no HAR is told in a sentence', async () => {
    const send = (body: string, name: string) => demo.ask(`/api/har?name=${name}`, { method: 'POST', body });
    const entry = {
      startedDateTime: '2026-11-03T10:00:00.000Z',
      request: { method: 'GET', url: 'http://bare.localhost/', headers: [] },
      response: { status: 200, headers: [], content: { mimeType: 'text/html', size: 10 }, bodySize: 10 },
      timings: { wait: 20, receive: 1 },
    };
    await send(JSON.stringify({ log: { version: '1.2', entries: [entry] } }), 'bare.har');
    await expect
      .poll(async () => (await board()).sites.some((site) => site.name.startsWith('bare')), {
        timeout: 30_000,
      })
      .toBe(true);
    const bare = (await board()).sites.find((site) => site.name.startsWith('bare'))!.pages[0]!;
    await user.go(`${demo.url}/pages/${bare.id}/map`);
    await user.sees('its requests are listed as they were, and first paint is not known');
    await send('no har at all', 'wrong.har');
    await user.go(demo.url);
    await user.sees('is no readable HAR file', 30);
    await user.sees('Nothing stored was changed');
  });
});

describe('real visitors', () => {
  it('stand on the spread; a file that is none is told, and a new one takes their place until forgotten', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'wistrel-visitors-'));
    const give = async (name: string, text: string) => {
      writeFileSync(join(folder, name), text);
      await (await user.finds(By.css('input[name=visitors]'))).sendKeys(join(folder, name));
      await user.press('Take the figures');
    };
    const { url } = (await board()).sites[0]!.pages[0]!;
    await user.go(`${demo.url}/pages/1/measure?conditions=slow-phone`);
    await user.sees('Visitors’ percentiles on it');
    await user.sees('phone, October 2026, 48,210 visits');
    await user.press('Visitors’ figures');
    await give('wrong.csv', 'page,figure\n/,12');
    await user.sees('The file’s first line does not name the columns url, metric, percentile, value');
    const metric = 'first contentful paint';
    await give(
      'right.csv',
      `url,metric,percentile,value,device\n${url},${metric},50,80,phone\n${url},${metric},95,160,phone\n${url},bounces,50,3,phone\n`,
    );
    await user.sees('2 figures of 1 page were taken. 1 was left out:');
    await user.sees('“bounces” is none of the metrics');
    await user.press('Close');
    await user.sees('Unlike your visitors.');
    await user.sees('95 % of visits had it by 160 ms (phone)');
    await user.press('Visitors’ figures');
    await user.press('Forget this page’s');
    await user.doesNotSee('Unlike your visitors.');
  });
});

describe('the map', () => {
  it('counts third parties by the owner that the user names', async () => {
    await user.go(`${demo.url}/pages/1/map?conditions=slow-phone`);
    await user.press('whose? Name the owner of wakecount.localhost');
    await user.fill('owner', 'Harbour Counting');
    await user.press('Keep it');
    await user.sees('Harbour Counting: ');
  });

  it('is zoomed and moved by keys, and gives the bill of another paint', async () => {
    await user.go(`${demo.url}/pages/1/map?conditions=slow-phone`);
    await user.sees('The bill, line by line');
    // What is drawn to scale comes once there is a scale.
    await user.finds(By.css('.bill .strip'));
    const long = async () =>
      Number(
        await driver.executeScript(
          "return document.querySelector('.bill .strip').getBoundingClientRect().width",
        ),
      );
    const before = await long();
    await user.key('+');
    await expect.poll(long).toBeGreaterThan(before * 1.3);
    await user.key('-');
    await user.key('-');
    await expect.poll(long).toBeLessThanOrEqual(before);
    for (let count = 0; count < 16; count++) await user.key('j');
    // The row that the keys went to, and its evidence, are in sight.
    const placeOf = async (what: string) =>
      (await driver.executeScript(
        `const box = document.querySelector("${what}").getBoundingClientRect(); return [box.top, innerHeight - box.bottom]`,
      )) as [number, number];
    await expect
      .poll(async () => Math.min(...(await placeOf('.asset[aria-pressed=true]'))))
      .toBeGreaterThanOrEqual(0);
    expect(await driver.executeScript('return scrollY')).toBeGreaterThan(200);
    expect((await placeOf('.side h2'))[0]).toBeGreaterThanOrEqual(0);
    await user.press('lib.js');
    await user.clicks(By.xpath("//aside//summary[normalize-space(.)='Content']"));
    await user.sees('Laid out to be read');
    const first = await user.sentence();
    await user.clicks(By.css('option[value=largest-contentful-paint]'));
    await user.sees('Largest contentful paint took');
    expect(await user.sentence()).not.toBe(first);
  });
});
