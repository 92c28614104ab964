import { spawn, type ChildProcess } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { createServer, type AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { Builder, By, Key, until, type WebDriver, type WebElement } from 'selenium-webdriver';
import chrome from 'selenium-webdriver/chrome.js';
import { demoPorts } from '../../src/demo/certificate.ts';

/** The demo, started as a user starts it, on a data folder of its own. */
export interface RunningDemo {
  url: string;
  /** As it was printed: it opens the application to whoever has it. */
  address: string;
  /** Asks it as one of its own pages would. @param path or a whole address of its own */
  ask(path: string, init?: RequestInit): Promise<Response>;
  data: string;
  process: ChildProcess;
  stop(): Promise<void>;
}

async function freePort(): Promise<number> {
  const probe = createServer();
  await new Promise<void>((resolve) => probe.listen(0, '127.0.0.1', resolve));
  const { port } = probe.address() as AddressInfo;
  await new Promise((resolve) => probe.close(resolve));
  return port;
}

/** The demo's site has addresses of its own: the demos of other files have to be over. */
async function demoPortFree(): Promise<void> {
  const { httpsPort } = demoPorts();
  for (let tries = 0; tries < 1_100; tries++) {
    const free = await new Promise<boolean>((resolve) => {
      const probe = createServer();
      probe.once('error', () => resolve(false));
      probe.listen(httpsPort, '127.0.0.1', () => probe.close(() => resolve(true)));
    });
    if (free) return;
    await sleep(1_000);
  }
  throw new Error(`Port ${httpsPort} is not free: another demo is running.`);
}

/**
 * Starts ./wistrel demo, or ./wistrel start on an existing data folder, and waits until it answers.
 *
 * @param begun is told the process as soon as it is there
 */
export async function startWistrel(
  command: 'demo' | 'start' = 'demo',
  folder?: string,
  begun?: (pid: number) => unknown,
): Promise<RunningDemo> {
  if (command === 'start') return startOnce(command, folder, begun);
  // Two that find the demo's port free at the same instant: one of them has it, the other waits for its turn.
  for (let tries = 1; ; tries++) {
    await demoPortFree();
    try {
      return await startOnce(command, folder);
    } catch (error) {
      if (tries === 3) throw error;
    }
  }
}

async function startOnce(
  command: 'demo' | 'start',
  folder?: string,
  begun?: (pid: number) => unknown,
): Promise<RunningDemo> {
  const port = await freePort();
  const data = folder ?? mkdtempSync(join(tmpdir(), 'wistrel-e2e-'));
  const child = spawn('./wistrel', [command, '--port', String(port), '--data', data], {
    env: {
      ...process.env,
      WISTREL_MEASURING_LOCK: join(data, 'measuring.lock'),
      WISTREL_LOAD_LIMIT_MS: process.env['WISTREL_LOAD_LIMIT_MS'] ?? '20000',
    },
  });
  begun?.(child.pid!);
  let said = '';
  child.stderr.on('data', (chunk: Buffer) => (said += chunk.toString()));
  await new Promise<void>((resolve, reject) => {
    child.stdout.on('data', (chunk: Buffer) => {
      said += chunk.toString();
      if (said.includes('Wistrel is at')) resolve();
    });
    child.on('exit', (code) => reject(new Error(`./wistrel ${command} ended with ${code}:\n${said}`)));
    setTimeout(() => reject(new Error(`./wistrel ${command} did not come up:\n${said}`)), 240_000).unref();
  });
  const url = `http://127.0.0.1:${port}`;
  const address = /Wistrel is at\s+(\S+)/.exec(said)![1]!;
  const cookie = `wistrel-${port}=${new URL(address).searchParams.get('token')}`;
  return {
    url,
    address,
    ask: (path, init = {}) =>
      fetch(new URL(path, url), { ...init, headers: { cookie, 'x-wistrel': '1', ...init.headers } }),
    data,
    process: child,
    async stop() {
      if (child.exitCode === null && child.signalCode === null) {
        const ended = new Promise((resolve) => child.once('exit', resolve));
        child.kill('SIGTERM');
        await ended;
      }
      if (!folder) rmSync(data, { recursive: true, force: true });
    },
  };
}

/** Chromium under selenium, exactly 1280×800, that has opened the application. */
export async function startBrowser({ address }: RunningDemo): Promise<WebDriver> {
  process.env['SE_OFFLINE'] = 'true';
  const options = new chrome.Options();
  options.setChromeBinaryPath(process.env['WISTREL_CHROMIUM'] ?? '/usr/bin/chromium');
  options.addArguments(
    '--headless=new',
    '--disable-gpu',
    '--no-first-run',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync',
    '--disable-features=WebUIOmniboxPopup,WebUIOmniboxAimPopup',
    '--window-size=1280,800',
  );
  if (process.getuid?.() === 0) options.addArguments('--no-sandbox');
  const driver = await new Builder()
    .forBrowser('chrome')
    .setChromeOptions(options)
    .setChromeService(new chrome.ServiceBuilder('/usr/bin/chromedriver'))
    .build();
  await (driver as chrome.Driver).sendDevToolsCommand('Emulation.setDeviceMetricsOverride', {
    width: 1280,
    height: 800,
    deviceScaleFactor: 1,
    mobile: false,
  });
  await driver.get(address);
  return driver;
}

/** What a user does with the interface: by the words that stand on it. */
export class User {
  readonly driver: WebDriver;

  constructor(driver: WebDriver) {
    this.driver = driver;
  }

  go(url: string): Promise<void> {
    return this.driver.get(url);
  }

  /** Waits for text anywhere on the page. */
  async sees(text: string, seconds = 40): Promise<WebElement> {
    const place = By.xpath(`//body//*[not(self::script)][contains(normalize-space(.), ${quoted(text)})]`);
    try {
      return await this.driver.wait(until.elementLocated(place), seconds * 1000);
    } catch {
      throw new Error(`“${text}” did not appear within ${seconds} s. There stood:\n${await this.text()}`);
    }
  }

  async doesNotSee(text: string, seconds = 40): Promise<void> {
    await this.driver.wait(
      async () => !(await this.text()).includes(text),
      seconds * 1000,
      `“${text}” did not go away`,
    );
  }

  text(): Promise<string> {
    return this.driver.executeScript('return document.body.innerText');
  }

  /** The screen's one sentence, once it stands there. */
  async sentence(): Promise<string> {
    let said = '';
    await this.driver.wait(
      async () => {
        said = String(
          await this.driver.executeScript(
            "return document.querySelector('h1.sentence')?.innerText.replace(/\\s+/g, ' ').trim() ?? ''",
          ),
        );
        return said !== '' && !said.startsWith('Reading');
      },
      40_000,
      'no sentence appeared',
    );
    return said;
  }

  /** Presses a button or follows a link of that name: called so exactly, or with the name in its text. */
  async press(name: string, seconds = 40): Promise<void> {
    const kinds = "self::button or self::a or @role='menuitem' or @role='tab'";
    const exact = `normalize-space(.)=${quoted(name)} or @aria-label=${quoted(name)}`;
    const places = [
      By.xpath(`//*[${kinds}][${exact}]`),
      // The stages' own links hold the names of what is done in them: they are gone to by `stage`.
      By.xpath(`//*[${kinds}][not(ancestor::nav)][contains(normalize-space(.), ${quoted(name)})]`),
    ];
    await this.driver.wait(
      async () => {
        for (const place of places) {
          try {
            const found = await this.driver.findElement(place);
            if (!(await found.isEnabled())) continue;
            await found.click();
            return true;
          } catch {
            // It is not there, or was drawn anew: look again.
          }
        }
        return false;
      },
      seconds * 1000,
      `“${name}” could not be pressed`,
    );
  }

  /** Follows a page's name on the board to its stage: until that stands there, the board's own buttons would be pressed. */
  async opens(page: string): Promise<void> {
    await this.press(page);
    await this.driver.wait(until.urlContains('/pages/'), 40_000, `“${page}” did not open`);
    await this.finds(By.css('nav[aria-label=Stages]'));
  }

  /** What stands at a place, once it stands there. */
  finds(place: By, seconds = 40): Promise<WebElement> {
    return this.driver.wait(until.elementLocated(place), seconds * 1000);
  }

  /** Clicks what stands at a place, once it can be clicked. */
  async clicks(place: By, seconds = 40): Promise<void> {
    await this.driver.wait(
      async () => {
        try {
          await this.driver.findElement(place).click();
          return true;
        } catch {
          // It is not there, is drawn anew, or a dialog that closes still covers it: look again.
          return false;
        }
      },
      seconds * 1000,
      `${place.toString()} could not be clicked`,
    );
  }

  /** Writes into a field of that name, over what stands there. */
  async fill(name: string, text: string): Promise<void> {
    await this.driver.wait(
      async () => {
        try {
          const field = await this.driver.findElement(
            By.css(`[name="${name}"], input[aria-label="${name}"]`),
          );
          // Clearing a field by itself tells the page nothing: select all and type over it.
          await field.sendKeys(Key.chord(Key.CONTROL, 'a'), Key.DELETE, text);
          return true;
        } catch {
          // It is not there, or a dialog that closes still covers it: look again.
          return false;
        }
      },
      40_000,
      `“${name}” could not be filled`,
    );
  }

  async key(...keys: string[]): Promise<void> {
    await this.driver
      .actions()
      .sendKeys(...keys)
      .perform();
  }

  async stage(name: string): Promise<void> {
    const place = By.xpath(`//nav[@aria-label='Stages']//a[.//b[normalize-space(.)=${quoted(name)}]]`);
    await this.driver.wait(async () => {
      try {
        const link = await this.driver.findElement(place);
        if ((await link.getAttribute('aria-current')) === 'page') return true;
        await link.click();
      } catch {
        // Drawn anew meanwhile: look again.
      }
      return false;
    }, 40_000);
  }

  /** Text of the figure under a stage's name. */
  async figureOf(stage: string): Promise<string> {
    return String(
      await this.driver.executeScript(
        `return [...document.querySelectorAll('nav[aria-label=Stages] a')]
           .find((a) => a.querySelector('b')?.textContent === arguments[0])?.querySelector('.figure')?.textContent ?? ''`,
        stage,
      ),
    );
  }
}

function quoted(text: string): string {
  return text.includes("'") ? `"${text}"` : `'${text}'`;
}
