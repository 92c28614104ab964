import { once } from 'node:events';
import { connect, createServer } from 'node:net';
import { median } from '../../core/measure/metrics.ts';
import { listenOn } from './listen.ts';
import { Shaper } from './shaper.ts';

const ROUND_TRIP_MS = 16;
const PINGS = 11;
/** More than this is a busy machine, not an offset: taking it off would hide it. */
const MOST_MS = 6;

/** What the loopback and the timers add to a round trip on this machine by themselves, ms. */
export async function measureOffset(): Promise<number> {
  const shaper = new Shaper({ roundTripMs: ROUND_TRIP_MS, downKbps: 100_000, upKbps: 100_000 });
  const server = createServer((socket) => {
    const end = shaper.connect(socket);
    end.on('data', () => end.write('pong'));
    end.on('error', () => undefined);
  });
  const socket = connect(await listenOn(server), '127.0.0.1');
  try {
    const took: number[] = [];
    for (let ping = 0; ping <= PINGS; ping++) {
      const asked = performance.now();
      socket.write('ping');
      await once(socket, 'data');
      // The first one pays for the handshake.
      if (ping > 0) took.push(performance.now() - asked - ROUND_TRIP_MS);
    }
    return Math.min(MOST_MS, Math.max(0, median(took) ?? 0));
  } finally {
    socket.destroy();
    server.close();
  }
}
