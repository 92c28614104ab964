import { spawn } from 'node:child_process';
import { setTimeout as sleep } from 'node:timers/promises';
import { expect, it } from 'vitest';
import { CpuMeter } from './cpu-meter.ts';

const BUSY = 'const end = Date.now() + 60000; while (Date.now() < end);';

it('does not count our own processes as others’, not even one that ends meanwhile', async () => {
  const child = spawn(process.execPath, ['-e', BUSY]);
  await sleep(1_500);
  const meter = new CpuMeter();
  const end = Date.now() + 400;
  while (Date.now() < end);
  child.kill('SIGKILL');
  await sleep(400);
  const share = meter.othersShare();
  // Its second and a half of work before the meter began would be more than the whole of what was watched.
  if (share !== null) expect(share).toBeLessThan(0.6);
});
