import { spawn, type ChildProcess } from 'node:child_process';
import { createServer } from 'node:net';
import { isAbsolute, join } from 'node:path';
import { LockedError } from '../locks/process-lock.ts';

/**
 * Starts the built application on 127.0.0.1. It ends when this process does, however that ends: the channel between
 * them closes.
 *
 * @param data its data folder
 */
export function serveApplication(port: number, data: string): ChildProcess {
  return spawn(
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
      },
    },
  );
}

/** Waits until the application answers. @throws Error when it ends first or takes a minute */
export async function untilItAnswers(port: number, child: ChildProcess): Promise<void> {
  const end = Date.now() + 60_000;
  while (Date.now() < end) {
    if (child.exitCode !== null)
      throw new Error('The application ended before it answered; what it said stands above.');
    const ok = await fetch(`http://127.0.0.1:${port}/api/jobs`).then(
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

/** Says why nothing was started, and ends. */
export function endWithReason(error: unknown): never {
  const held = error instanceof LockedError ? ' Choose another folder with --data DIR.' : '';
  process.stderr.write(`${error instanceof Error ? error.message : String(error)}${held}\n`);
  process.exit(2);
}
