import { once } from 'node:events';
import { connect, createServer, type AddressInfo, type Socket } from 'node:net';
import { BUILT_IN_CONDITIONS } from '../src/core/measure/conditions.ts';
import { median } from '../src/core/measure/metrics.ts';
import { PACKET_BYTES, PACKET_OVERHEAD_BYTES } from '../src/core/network/link.ts';
import { measureOffset } from '../src/engine/replay/calibrate.ts';
import { Shaper, type NetworkSetting } from '../src/engine/replay/shaper.ts';
import type { Finding } from './report.ts';

const RATES_KBPS = [400, 1_000, 3_000, 10_000, 30_000, 60_000, 100_000];

/** Throughput and round trip of the bottleneck, against what was asked for. */
export async function shaperBench(): Promise<Finding> {
  const offset = await measureOffset();
  const settings: [string, NetworkSetting][] = [
    ...BUILT_IN_CONDITIONS.map((one): [string, NetworkSetting] => [one.id, one]),
    ...RATES_KBPS.map((kbps): [string, NetworkSetting] => [
      `${kbps / 1000} Mbps`,
      { roundTripMs: 40, downKbps: kbps, upKbps: Math.min(kbps, 20_000) },
    ]),
  ];
  const rows: Finding['rows'] = [];
  for (const [name, setting] of settings) {
    const { kbps, roundTripMs } = await through(setting, offset);
    const [rate, trip] = [kbps / setting.downKbps - 1, roundTripMs - setting.roundTripMs];
    const holds =
      Math.abs(rate) <= 0.05 && Math.abs(trip) <= Math.max(3, 0.1 * setting.roundTripMs) ? 'yes' : 'no';
    rows.push([
      name,
      setting.downKbps,
      Math.round(kbps),
      `${(rate * 100).toFixed(1)} %`,
      setting.roundTripMs,
      roundTripMs.toFixed(1),
      holds,
    ]);
  }
  return {
    title: 'The bottleneck',
    about: `Throughput within 5 % of its target and round trip within 3 ms or 10 %, over loopback. The machine’s own offset, ${offset.toFixed(1)} ms, is calibrated out.`,
    columns: ['conditions', 'target kbps', 'kbps', 'off by', 'target ms', 'round trip ms', 'holds'],
    rows,
  };
}

async function through(
  setting: NetworkSetting,
  offset: number,
): Promise<{ kbps: number; roundTripMs: number }> {
  const shaper = new Shaper(setting, offset);
  const server = createServer((socket) => {
    const end = shaper.connect(socket);
    end.on('error', () => undefined);
    end.on('data', (asked: Buffer) => {
      const bytes = /^get (\d+)/.exec(asked.toString())?.[1];
      if (!bytes) end.write('pong');
      else void send(Number(bytes));
    });
    const send = async (bytes: number) => {
      for (let left = bytes; left > 0; left -= 8_000)
        if (!end.write(Buffer.alloc(Math.min(8_000, left)))) await once(end, 'drain');
    };
  });
  await once(server.listen(0, '127.0.0.1'), 'listening');
  const socket = connect((server.address() as AddressInfo).port, '127.0.0.1');
  await once(socket, 'connect');
  await pingPong(socket);
  const trips: number[] = [];
  for (let ping = 0; ping < 15; ping++) trips.push(await pingPong(socket));
  // The first transfer opens the window; the second is measured, over at least two seconds.
  const bytes = Math.max(200_000, Math.round(setting.downKbps * 250));
  await transfer(socket, bytes);
  const tookMs = await transfer(socket, bytes);
  socket.destroy();
  server.close();
  const onWire = bytes * (1 + PACKET_OVERHEAD_BYTES / PACKET_BYTES);
  return { kbps: (onWire * 8) / tookMs, roundTripMs: median(trips)! };
}

async function pingPong(socket: Socket): Promise<number> {
  const asked = performance.now();
  socket.write('ping');
  await once(socket, 'data');
  return performance.now() - asked;
}

/** Time from the first byte's arrival to the last one's, ms. */
function transfer(socket: Socket, bytes: number): Promise<number> {
  return new Promise((resolve) => {
    let got = 0;
    let first = 0;
    socket.on('data', function count(data: Buffer) {
      first ||= performance.now();
      got += data.length;
      if (got < bytes) return;
      socket.off('data', count);
      resolve(performance.now() - first);
    });
    socket.write(`get ${bytes}`);
  });
}
