import { closeSync, openSync, readFileSync, renameSync, rmSync, writeSync } from 'node:fs';

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

/**
 * Takes an exclusive lock: a file that names its holder, created only when it is not there. A file left by a
 * process that has ended is set aside.
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
  for (let attempt = 0; attempt < 5; attempt++) {
    try {
      const file = openSync(path, 'wx');
      writeSync(file, JSON.stringify(mine));
      closeSync(file);
      return () => {
        if (readHolder(path)?.pid === process.pid) rmSync(path, { force: true });
      };
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code !== 'EEXIST') throw error;
      const holder = readHolder(path);
      if (holder && isAlive(holder)) throw new LockedError(path, holder);
      // Setting it aside by renaming succeeds for one of several who find it stale.
      try {
        renameSync(path, `${path}.stale-${process.pid}`);
        rmSync(`${path}.stale-${process.pid}`, { force: true });
      } catch {
        // Another one was faster: try again.
      }
    }
  }
  throw new Error(`The lock ${path} could not be taken.`);
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
  try {
    return JSON.parse(readFileSync(path, 'utf8')) as LockHolder;
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
