import { spawn, type ChildProcess } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { createServer } from 'node:net';
import { isAbsolute, join } from 'node:path';
import { cookieName, TOKEN, TOKEN_PARAMETER } from '../access.ts';
import { isRoot } from '../engine/chromium/browser-user.ts';
import { LockedError } from '../locks/process-lock.ts';

/** The application as it was started. */
export interface Served {
  child: ChildProcess;
  host: string;
  token: string;
  /** Opens it to whoever has it. */
  address: string;
}

/**
 * Starts the built application on 127.0.0.1. It ends when this process does, however that ends: the channel between
 * them closes.
 *
 * @param data its data folder
 */
export function serveApplication(port: number, data: string): Served {
  const token = randomBytes(16).toString('hex');
  const child = spawn(
    process.execPath,
    [join('node_modules', 'next', 'dist', 'bin', 'next'), 'start', '-H', '127.0.0.1', '-p', String(port)],
    {
      stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
      env: {
        ...process.env,
        NODE_ENV: 'production',
        NEXT_MANUAL_SIG_HANDLE: '1',
        NEXT_TELEMETRY_DISABLED: '1',
        WISTREL_DATA: data,
        [TOKEN]: token,
      },
    },
  );
  const host = `127.0.0.1:${port}`;
  return { child, host, token, address: `http://${host}/?${TOKEN_PARAMETER}=${token}` };
}

/** Waits until the application answers. @throws Error when it ends first or takes a minute */
export async function untilItAnswers({ child, host, token }: Served): Promise<void> {
  const end = Date.now() + 60_000;
  while (Date.now() < end) {
    if (child.exitCode !== null)
      throw new Error('The application ended before it answered; what it said stands above.');
    const cookie = `${cookieName(host)}=${token}`;
    const ok = await fetch(`http://${host}/api/jobs`, { headers: { cookie } }).then(
      (response) => response.ok,
      () => false,
    );
    if (ok) return;
    await new Promise((resolve) => setTimeout(resolve, 200));
  }
  throw new Error('The application did not answer within a minute.');
}

/** True when nothing listens on the port of 127.0.0.1. */
export function isFree(port: number): Promise<boolean> {
  return new Promise((resolve) => {
    const probe = createServer();
    probe.once('error', () => resolve(false));
    probe.listen(port, '127.0.0.1', () => probe.close(() => resolve(true)));
  });
}

/** True for ports that browsers open nothing at (Fetch, "port blocking"). Ask it of free ports only: who listens may never answer. */
function isRefusedByBrowsers(port: number): Promise<boolean> {
  return fetch(`http://127.0.0.1:${port}/`, { method: 'HEAD', redirect: 'manual' }).then(
    () => false,
    (error: unknown) =>
      error instanceof Error && error.cause instanceof Error && error.cause.message === 'bad port',
  );
}

/** Makes sure that the application can be served at a port, and reached there. @throws Error that says what to do */
export async function needPort(port: number): Promise<void> {
  if (!(await isFree(port))) throw new Error(`Port ${port} is in use. Choose another one with --port N.`);
  if (await isRefusedByBrowsers(port))
    throw new Error(`Browsers open nothing at port ${port}. Choose another one with --port N.`);
}

/** Ends the child when this process is asked to end, and this process when the child has ended. */
export function endTogether(child: ChildProcess, also: () => Promise<void> = () => Promise.resolve()): void {
  const stop = () => child.kill('SIGTERM');
  process.on('SIGINT', stop);
  process.on('SIGTERM', stop);
  child.on('exit', (code) => void also().finally(() => process.exit(code ?? 0)));
}

/** Reads --port, --data and the like: a name and a value each. */
export function readFlags(args: readonly string[], known: readonly string[]): Record<string, string> {
  const flags: Record<string, string> = {};
  for (let i = 0; i < args.length; i += 2) {
    const name = args[i]!.replace(/^--/, '');
    const value = args[i + 1];
    if (!known.includes(name) || value === undefined)
      throw new Error(
        `“${args[i]}” is not understood. Known: ${known.map((one) => `--${one}`).join(', ')}, each with a value.`,
      );
    flags[name] = value;
  }
  return flags;
}

/** A port number out of a flag. */
export function readPort(text: string | undefined, standard: number): number {
  const port = text === undefined ? standard : Number(text);
  if (!Number.isInteger(port) || port < 1 || port > 65_535) throw new Error(`“${text}” is no port number.`);
  return port;
}

/** The data folder out of a flag: beside where the command was given, or the standard one beside the application. */
export function readDataFolder(given: string | undefined, standard: string): string {
  if (!given) return join(process.cwd(), '.data', standard);
  return isAbsolute(given) ? given : join(process.env['WISTREL_CWD'] ?? process.cwd(), given);
}

/** As root Chromium has no sandbox: whoever starts the application as root is told so, once. */
export function warnAsRoot(): void {
  if (isRoot() && !process.env['WISTREL_CHROMIUM_USER'])
    process.stderr.write(
      'You are root: Chromium runs without its sandbox. Where pages are not your own, start Wistrel as somebody else, or set WISTREL_CHROMIUM_USER to a user as whom Chromium runs.\n',
    );
}

/** Says why nothing was started, and ends. */
export function endWithReason(error: unknown): never {
  const held = error instanceof LockedError ? ' Choose another folder with --data DIR.' : '';
  process.stderr.write(`${error instanceof Error ? error.message : String(error)}${held}\n`);
  process.exit(2);
}
