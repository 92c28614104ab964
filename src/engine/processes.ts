import { fork, type ChildProcess } from 'node:child_process';
import { programFile } from '../programs/program-file.ts';

/**
 * Starts one of the engine's own processes; messages keep bytes as bytes.
 *
 * @param source the process's file, seen from src/engine
 */
export function startEngineProcess(source: string): ChildProcess {
  const child = fork(/* turbopackIgnore: true */ programFile(`engine/${source}`), {
    execArgv: [],
    serialization: 'advanced',
    stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
  });
  child.on('error', () => {
    // What is sent to one that has just been killed cannot be written: “exit” tells that it ended. One that the system would not start has none.
    if (child.pid === undefined) child.emit('exit', child.exitCode, null);
  });
  return child;
}
