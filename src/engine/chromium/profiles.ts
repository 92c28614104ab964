import { mkdtemp, readdir, rm, stat } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

/** A browser's profile is called by the process that uses it. */
const NAME = /^wistrel-profile-(?:(\d+)-)?\w{6}$/;
/** One of before this told its process is given up after so long. */
const OLD_MS = 86_400_000;

/** A new, empty profile folder for a browser of this process. */
export function newProfile(): Promise<string> {
  return mkdtemp(join(tmpdir(), `wistrel-profile-${process.pid}-`));
}

/** Removes the profiles of processes that ended without doing so: killed, or with the machine. @returns how many */
export async function sweepProfiles(): Promise<number> {
  let removed = 0;
  for (const name of await readdir(tmpdir())) {
    const match = NAME.exec(name);
    if (!match) continue;
    const folder = join(tmpdir(), name);
    const left = match[1] ? !isRunning(Number(match[1])) : await isOlderThan(folder, OLD_MS);
    if (!left) continue;
    // Somebody else's, on a machine of many: theirs to remove.
    await rm(folder, { recursive: true, force: true }).then(
      () => removed++,
      () => undefined,
    );
  }
  return removed;
}

function isRunning(pid: number): boolean {
  try {
    process.kill(pid, 0);
    return true;
  } catch (error) {
    return (error as NodeJS.ErrnoException).code === 'EPERM';
  }
}

async function isOlderThan(folder: string, ms: number): Promise<boolean> {
  try {
    return Date.now() - (await stat(folder)).mtimeMs > ms;
  } catch {
    return false;
  }
}
