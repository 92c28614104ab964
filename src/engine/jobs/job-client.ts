import { cancelled, Trouble } from '../errors.ts';
import { startEngineProcess } from '../processes.ts';
import type { FromJob } from './job-process.ts';
import type { OnSoFar, Order, ResultOf, Say } from './orders.ts';

/** How long a measuring process may take to end by itself after it was cancelled. */
const GRACE_MS = 3_000;

/** Carries out an order in a process of its own. @throws Trouble in plain words */
export function carryOutApart<O extends Order>(
  order: O,
  say: Say,
  signal: AbortSignal,
  onSoFar?: OnSoFar,
): Promise<ResultOf<O['kind']>> {
  // Asked to stop before it began, it would never hear of it.
  if (signal.aborted) return Promise.reject(cancelled());
  return new Promise((resolve, reject) => {
    const child = startEngineProcess('jobs/job-process.ts');
    let settled = false;
    const stop = () => {
      child.kill('SIGTERM');
      setTimeout(() => child.kill('SIGKILL'), GRACE_MS).unref();
    };
    signal.addEventListener('abort', stop, { once: true });
    child.on('message', (message: FromJob) => {
      if (message.type === 'progress') say(message.step, message.done, message.of);
      else if (message.type === 'so far') onSoFar?.(message.soFar);
      else if (message.type === 'result') {
        settled = true;
        resolve(message.result as ResultOf<O['kind']>);
      } else {
        settled = true;
        reject(new Trouble(message.kind, message.message, message.certificate));
      }
    });
    child.on('exit', (code, name) => {
      signal.removeEventListener('abort', stop);
      if (settled) return;
      reject(
        signal.aborted
          ? cancelled()
          : new Trouble(
              'measuring',
              `The measuring process ended unexpectedly (${name ?? code}). Nothing stored was changed; try again.`,
            ),
      );
    });
    child.on('error', reject);
    child.send(order);
  });
}
