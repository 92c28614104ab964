import { linkSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';

/** Who holds a lock: enough to tell a living process from another one that got its number later. */
export interface LockHolder {
  pid: number;
  /** Start time of the process in clock ticks since boot; 0 where /proc is not there. */
  startTicks: number;
  /** What the holder says it is doing. */
  what: string;
  since: string;
}

export class LockedError extends Error {
  readonly holder: LockHolder;

  constructor(path: string, holder: LockHolder) {
    super(`${path} is held by process ${holder.pid} (${holder.what}, since ${holder.since}).`);
    this.name = 'LockedError';
    this.holder = holder;
  }
}

/** What is set aside takes no time; whoever has not done so after this long was killed meanwhile, ms. */
const SETTING_ASIDE_MS = 5_000;
const TRIED_FOR_MS = 10_000;
const TRIED_EVERY_MS = 10;

/**
 * Takes an exclusive lock: a file that names its holder, created only when it is not there, and with what is in it. A
 * file left by a process that has ended is set aside, by one of those who find it at a time.
 *
 * @returns what gives the lock back
 * @throws LockedError when a living process holds it
 */
export function takeLock(path: string, what: string): () => void {
  const mine: LockHolder = {
    pid: process.pid,
    startTicks: startTicksOf(process.pid),
    what,
    since: new Date().toISOString(),
  };
  for (const until = Date.now() + TRIED_FOR_MS; Date.now() < until; pause()) {
    if (create(path, mine))
      return () => {
        if (readHolder(path)?.pid === process.pid) rmSync(path, { force: true });
      };
    const holder = readHolder(path);
    if (holder && isAlive(holder)) throw new LockedError(path, holder);
    setAside(path);
  }
  throw new Error(`The lock ${path} could not be taken.`);
}

/** Makes the file with its contents in one step: nobody ever finds it empty. @returns false where there is one */
function create(path: string, holder: LockHolder): boolean {
  const own = `${path}.${process.pid}`;
  writeFileSync(own, JSON.stringify(holder));
  try {
    linkSync(own, path);
    return true;
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    if (code === 'EEXIST') return false;
    if (code !== 'EPERM' && code !== 'ENOTSUP' && code !== 'ENOSYS') throw error;
    return createAlone(path, holder);
  } finally {
    rmSync(own, { force: true });
  }
}

/** The same on a disk that knows no links. */
function createAlone(path: string, holder: LockHolder): boolean {
  try {
    writeFileSync(path, JSON.stringify(holder), { flag: 'wx' });
    return true;
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'EEXIST') return false;
    throw error;
  }
}

/**
 * Removes a lock whose holder has ended. Only here is one removed that is another's, by one process at a time, which
 * looks once more: what was set aside and taken anew meanwhile is not taken away from its new holder.
 */
function setAside(path: string): void {
  const mark = `${path}.set-aside`;
  if (!createAlone(mark, { pid: process.pid, startTicks: 0, what: 'setting aside', since: '' })) {
    if (ageOf(mark) > SETTING_ASIDE_MS) rmSync(mark, { force: true });
    return;
  }
  try {
    const text = textOf(path);
    const holder = text === null ? null : holderIn(text);
    // One that was gone may have been made anew since; one that is there stays until it is removed here.
    if (text !== null && !(holder && isAlive(holder))) rmSync(path, { force: true });
  } finally {
    rmSync(mark, { force: true });
  }
}

/** How long a file has been there, ms; 0 where it is not there any more. */
function ageOf(path: string): number {
  const found = statSync(path, { throwIfNoEntry: false });
  return found ? Date.now() - found.mtimeMs : 0;
}

function pause(): void {
  Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0, TRIED_EVERY_MS);
}

/** Waits for a lock. @param onWait is told, once for each holder, for whom */
export async function waitForLock(
  path: string,
  what: string,
  onWait: (holder: LockHolder) => void,
  signal?: AbortSignal,
): Promise<() => void> {
  let told = '';
  for (;;) {
    try {
      return takeLock(path, what);
    } catch (error) {
      if (!(error instanceof LockedError)) throw error;
      const name = `${error.holder.pid}:${error.holder.since}`;
      if (name !== told) onWait(error.holder);
      told = name;
      if (signal?.aborted) throw new DOMException('Waiting was cancelled.', 'AbortError');
      await new Promise((resolve) => setTimeout(resolve, 300));
    }
  }
}

function readHolder(path: string): LockHolder | null {
  return holderIn(textOf(path) ?? '');
}

function textOf(path: string): string | null {
  try {
    return readFileSync(path, 'utf8');
  } catch {
    return null;
  }
}

function holderIn(text: string): LockHolder | null {
  try {
    return JSON.parse(text) as LockHolder;
  } catch {
    return null;
  }
}

function isAlive(holder: LockHolder): boolean {
  try {
    process.kill(holder.pid, 0);
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'EPERM') return false;
  }
  // One that was killed and not yet collected by its parent still has a number, but holds nothing.
  if (statOf(holder.pid)[0] === 'Z') return false;
  return holder.startTicks === 0 || startTicksOf(holder.pid) === holder.startTicks;
}

function startTicksOf(pid: number): number {
  return Number(statOf(pid)[19]) || 0;
}

/** /proc/PID/stat from field 3, the state, on (proc(5)); the name in field 2 may hold spaces and brackets. */
function statOf(pid: number): string[] {
  try {
    const stat = readFileSync(`/proc/${pid}/stat`, 'utf8');
    return stat.slice(stat.lastIndexOf(')') + 2).split(' ');
  } catch {
    return [];
  }
}
