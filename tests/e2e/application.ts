import { spawn, type ChildProcess } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { createServer, type AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Builder, By, until, type WebDriver, type WebElement } from 'selenium-webdriver';
import chrome from 'selenium-webdriver/chrome.js';

/** The demo, started as a user starts it, on a data folder of its own. */
export interface RunningDemo {
  url: string;
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

/** Starts ./wistrel demo, or ./wistrel start on an existing data folder, and waits until it answers. */
export async function startWistrel(
  command: 'demo' | 'start' = 'demo',
  folder?: string,
): Promise<RunningDemo> {
  const port = await freePort();
  const data = folder ?? mkdtempSync(join(tmpdir(), 'wistrel-e2e-'));
  const child = spawn('./wistrel', [command, '--port', String(port), '--data', data], {
    env: {
      ...process.env,
      WISTREL_MEASURING_LOCK: join(data, 'measuring.lock'),
      WISTREL_LOAD_LIMIT_MS: '20000',
    },
  });
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
  return {
    url: `http://127.0.0.1:${port}`,
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

/** Chromium under selenium, exactly 1280×800. */
export async function startBrowser(): Promise<WebDriver> {
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
  async sees(text: string, seconds = 15): Promise<WebElement> {
    const place = By.xpath(`//body//*[not(self::script)][contains(normalize-space(.), ${quoted(text)})]`);
    return this.driver.wait(until.elementLocated(place), seconds * 1000, `“${text}” did not appear`);
  }

  async doesNotSee(text: string, seconds = 15): Promise<void> {
    await this.driver.wait(
      async () => !(await this.text()).includes(text),
      seconds * 1000,
      `“${text}” did not go away`,
    );
  }

  text(): Promise<string> {
    return this.driver.executeScript('return document.body.innerText');
  }

  /** The screen's one sentence. */
  async sentence(): Promise<string> {
    return (await this.driver.wait(until.elementLocated(By.css('h1.sentence')), 15_000)).getText();
  }

  /** Presses a button or follows a link of that name. */
  async press(name: string, seconds = 15): Promise<void> {
    const place = By.xpath(
      `//*[self::button or self::a or @role='menuitem'][contains(normalize-space(.), ${quoted(name)}) or @aria-label=${quoted(name)}]`,
    );
    await this.driver.wait(
      async () => {
        try {
          const found = await this.driver.findElement(place);
          if (!(await found.isEnabled())) return false;
          await found.click();
          return true;
        } catch {
          return false;
        }
      },
      seconds * 1000,
      `“${name}” could not be pressed`,
    );
  }

  async fill(name: string, text: string): Promise<void> {
    const field = await this.driver.wait(
      until.elementLocated(By.css(`input[name="${name}"], input[aria-label="${name}"]`)),
      15_000,
    );
    await field.clear();
    await field.sendKeys(text);
  }

  async key(...keys: string[]): Promise<void> {
    await this.driver
      .actions()
      .sendKeys(...keys)
      .perform();
  }

  async stage(name: string): Promise<void> {
    const place = By.xpath(`//nav[@aria-label='Stages']//a[.//b[normalize-space(.)=${quoted(name)}]]`);
    await (await this.driver.wait(until.elementLocated(place), 15_000)).click();
    await this.driver.wait(
      async () => (await this.driver.findElement(place).getAttribute('aria-current')) === 'page',
      15_000,
    );
  }

  /** Text of the figure under a stage's name. */
  async figureOf(stage: string): Promise<string> {
    return this.driver
      .findElement(
        By.xpath(
          `//nav[@aria-label='Stages']//a[.//b[normalize-space(.)=${quoted(stage)}]]//span[contains(@class,'figure')]`,
        ),
      )
      .getText();
  }
}

function quoted(text: string): string {
  return text.includes("'") ? `"${text}"` : `'${text}'`;
}
