import { fork, type ChildProcess } from 'node:child_process';
import { join } from 'node:path';

/**
 * Starts one of the engine's own processes from its TypeScript source; messages keep bytes as bytes. The
 * path is taken from the project's folder, so that it is right inside the built application too.
 *
 * @param source the process's file, seen from src/engine
 */
export function startEngineProcess(source: string): ChildProcess {
  const file = join(/* turbopackIgnore: true */ process.cwd(), 'src', 'engine', source);
  return fork(/* turbopackIgnore: true */ file, {
    execArgv: ['--import', 'tsx'],
    serialization: 'advanced',
    stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
  });
}
