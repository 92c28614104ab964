import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';

/** Processes below one, by /proc. */
export function descendants(pid: number): number[] {
  const lines = execFileSync('ps', ['-eo', 'pid=,ppid=']).toString().trim().split('\n');
  const pairs = lines.map((line) => line.trim().split(/\s+/).map(Number) as [number, number]);
  const found: number[] = [];
  for (let queue = [pid]; queue.length;) {
    const parent = queue.shift()!;
    for (const [child, up] of pairs) {
      if (up !== parent) continue;
      found.push(child);
      queue.push(child);
    }
  }
  return found;
}

/** The command line of a process, words apart by spaces; empty when it ended in the meantime. */
export function commandLine(pid: number): string {
  try {
    return readFileSync(`/proc/${pid}/cmdline`, 'utf8').replaceAll('\0', ' ');
  } catch {
    return '';
  }
}

/** Whether a process is there, and not only waits to be collected. */
export const alive = (pid: number) => {
  try {
    return !/^\d+ \(.*\) Z/.test(readFileSync(`/proc/${pid}/stat`, 'utf8'));
  } catch {
    return false;
  }
};
