import { readdirSync, readFileSync } from 'node:fs';

/** What one reading of /proc gives: clock ticks since boot. */
export interface Reading {
  /** Of all processors, idle ones included. */
  total: number;
  busy: number;
  /** Used so far by this process and each below it, by number. */
  ours: Map<number, number>;
}

/** Says what share of the machine others used between two moments. Linux only; elsewhere it says null. */
export class CpuMeter {
  #start: Reading | null;

  constructor() {
    this.#start = read();
  }

  /** Share of all processor time that others used since the start, 0 to 1. */
  othersShare(): number | null {
    const end = read();
    if (!this.#start || !end) return null;
    return othersBetween(this.#start, end);
  }
}

/**
 * What others used between two readings, as a share of all processor time. It is taken process by process: one
 * of ours that ended meanwhile takes its past with it, and that must not count as others'.
 */
export function othersBetween(start: Reading, end: Reading): number | null {
  const total = end.total - start.total;
  if (total <= 0) return null;
  let ours = 0;
  for (const [pid, ticks] of end.ours) ours += ticks - (start.ours.get(pid) ?? 0);
  return Math.min(1, Math.max(0, (end.busy - start.busy - ours) / total));
}

function read(): Reading | null {
  try {
    const fields = /^cpu\s+(.+)$/m.exec(readFileSync('/proc/stat', 'utf8'))![1]!.split(/\s+/).map(Number);
    // proc(5): user nice system idle iowait irq softirq steal; guest time is in user already.
    const total = fields.slice(0, 8).reduce((sum, one) => sum + one, 0);
    const idle = fields[3]! + fields[4]!;
    return { total, busy: total - idle, ours: ticksOfTree(process.pid) };
  } catch {
    return null;
  }
}

/** Ticks of a process and of each below it. */
function ticksOfTree(root: number): Map<number, number> {
  const children = new Map<number, number[]>();
  const ticks = new Map<number, number>();
  for (const name of readdirSync('/proc')) {
    if (!/^\d+$/.test(name)) continue;
    try {
      const stat = readFileSync(`/proc/${name}/stat`, 'utf8');
      const fields = stat.slice(stat.lastIndexOf(')') + 2).split(' ');
      const pid = Number(name);
      // proc(5), fields 4 (parent), 14 and 15 (user and system time).
      ticks.set(pid, Number(fields[11]) + Number(fields[12]));
      const parent = Number(fields[1]);
      children.set(parent, [...(children.get(parent) ?? []), pid]);
    } catch {
      // It ended while it was being read.
    }
  }
  const own = new Map<number, number>();
  const queue = [root];
  for (let pid = queue.pop(); pid !== undefined; pid = queue.pop()) {
    own.set(pid, ticks.get(pid) ?? 0);
    queue.push(...(children.get(pid) ?? []));
  }
  return own;
}
