import type { FromReplay, Numbered, ToReplay } from './messages.ts';
import { ReplayServer } from './replay-server.ts';

/**
 * The replay process: apart from everything else, so that neither the application nor the measuring process
 * disturbs it. It is told what to do by messages and ends with its parent.
 */
let server: ReplayServer | null = null;

async function obey(message: ToReplay): Promise<FromReplay> {
  switch (message.type) {
    case 'load': {
      server = new ReplayServer(message.load);
      const encodingDeviation = server.warm();
      return { type: 'ready', hosts: await server.listen(), encodingDeviation, pid: process.pid };
    }
    case 'arm':
      server?.choose(message.name);
      return { type: 'done' };
    case 'add-arm':
      server?.addArm(message.arm);
      return { type: 'done' };
    case 'report':
      return { type: 'report', report: server?.report() ?? { notes: [], latenessMs: [], sentBytes: 0 } };
    case 'close':
      server?.close();
      setImmediate(() => process.exit(0));
      return { type: 'done' };
  }
}

process.on('message', ({ id, message }: Numbered<ToReplay>) => {
  const answer = (message: FromReplay) => process.send?.({ id, message } satisfies Numbered<FromReplay>);
  obey(message).then(answer, (error: unknown) =>
    answer({ type: 'failed', message: error instanceof Error ? error.message : String(error) }),
  );
});
process.on('disconnect', () => process.exit(0));
