import { existsSync } from 'node:fs';
import { chown, rm } from 'node:fs/promises';
import puppeteer, { type Browser, type LaunchOptions as HowToLaunch } from 'puppeteer-core';
import { Trouble } from '../errors.ts';
import { asUser, browserUser, isRoot, type BrowserUser } from './browser-user.ts';
import { newProfile } from './profiles.ts';

/** What Chromium does of its own accord and would take its time from the page: the last two are its address bar's popup, hundreds of modules anew for every context. */
const OFF = [
  'Translate',
  'MediaRouter',
  'OptimizationHints',
  'AutofillServerCommunication',
  'WebUIOmniboxPopup',
  'WebUIOmniboxAimPopup',
];

const PLACES = ['/usr/bin/chromium', '/usr/bin/chromium-browser'];
/** Debian's Chromium without a window around its pages, always of the same version as the whole one. */
const WINDOWLESS = '/usr/bin/chromium-headless-shell';

/** Where Chromium is: WISTREL_CHROMIUM, or Debian's place. @throws Trouble when there is none */
export function findChromium(): string {
  const named = process.env['WISTREL_CHROMIUM'];
  const found = named ? [named].find(existsSync) : PLACES.find(existsSync);
  if (!found) {
    throw new Trouble(
      'measuring',
      named
        ? `Chromium is not at ${named} (WISTREL_CHROMIUM). Correct the variable or unset it.`
        : 'Chromium is missing. Install it with: sudo apt-get install chromium',
    );
  }
  return found;
}

/** What looks at pages and times nothing: a third of the processor's time for each load. Where it is not installed, the whole one does. */
function findWindowless(): string {
  return !process.env['WISTREL_CHROMIUM'] && existsSync(WINDOWLESS) ? WINDOWLESS : findChromium();
}

export interface LaunchOptions {
  /** Whether nothing is timed in it. */
  untimed?: boolean;
  /** Hosts mapped to local ports (Chromium's host resolver rules); all others then resolve to nothing. */
  hostRules?: string[];
  /** Public keys (SHA-256, base64) whose certificates are accepted. */
  acceptedKeys?: readonly string[];
}

/** A running Chromium with a profile folder of its own, removed when it is closed. */
export interface LaunchedBrowser {
  browser: Browser;
  close(): Promise<void>;
}

/** Starts Chromium, headless. The pipe to it makes it end when this process does, however that ends. */
export async function launchChromium(options: LaunchOptions = {}): Promise<LaunchedBrowser> {
  const executable = options.untimed ? findWindowless() : findChromium();
  const user = browserUser();
  const profile = await newProfile();
  const args = [
    '--disable-gpu',
    '--disable-quic',
    '--no-first-run',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync',
    '--no-proxy-server',
    '--hide-scrollbars',
    '--force-color-profile=srgb',
    `--disable-features=${OFF.join(',')}`,
  ];
  if (isRoot() && !user) args.push('--no-sandbox');
  if (options.hostRules)
    args.push(`--host-resolver-rules=${[...options.hostRules, 'MAP * ~NOTFOUND'].join(',')}`);
  if (options.acceptedKeys?.length)
    args.push(`--ignore-certificate-errors-spki-list=${options.acceptedKeys.join(',')}`);
  try {
    if (user) await chown(profile, user.uid, user.gid);
    const browser = await puppeteer.launch(howToLaunch(executable, profile, args, user));
    return {
      browser,
      async close() {
        await browser.close().catch(() => browser.process()?.kill('SIGKILL'));
        await rm(profile, { recursive: true, force: true, maxRetries: 3 });
      },
    };
  } catch (error) {
    await rm(profile, { recursive: true, force: true });
    const said = error instanceof Error ? error.message : String(error);
    throw new Trouble(
      'measuring',
      user && /sandbox/i.test(said)
        ? `Chromium’s sandbox does not start as ${user.name} on this system. Allow unprivileged user namespaces, or unset WISTREL_CHROMIUM_USER: Chromium then runs as root, without a sandbox.`
        : `Chromium did not start: ${said.split('\n')[0]}`,
    );
  }
}

function howToLaunch(
  executable: string,
  profile: string,
  args: string[],
  user: BrowserUser | null,
): HowToLaunch {
  const common = { headless: true, pipe: true };
  if (!user) return { ...common, executablePath: executable, userDataDir: profile, args };
  const by = asUser(user, executable);
  const all = puppeteer.defaultArgs({ headless: true, userDataDir: profile, args });
  return {
    ...common,
    executablePath: by.command,
    args: [...by.args, ...all],
    ignoreDefaultArgs: true,
    // It writes below its home, which root’s is not.
    env: { ...process.env, HOME: profile },
  };
}
