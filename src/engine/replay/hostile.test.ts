import { connect } from 'node:net';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { exchangeOf } from '../../../tests/engine/defaults.ts';
import type { Exchange } from '../../core/measure/exchange.ts';
import { ReplayServer } from './replay-server.ts';

const HOST = 'http://quay.test';
const body = new TextEncoder().encode('Quay');
const answered = (path: string, over: Partial<Exchange>) =>
  exchangeOf({ url: HOST + path, bodyHash: 'a', bodyBytes: 4, ...over });

let server: ReplayServer;
let port: number;

beforeAll(async () => {
  server = new ReplayServer({
    exchanges: [
      answered('/', {}),
      ...[0, 99, 101, 103, 1000, 3.5, NaN].map((status) => answered(`/status/${status}`, { status })),
      answered('/headers', {
        responseHeaders: [
          ['x-told', 'yes'],
          ['x-broken', 'a\r\nset-cookie: b=1'],
          ['x other', 'c'],
          ['', 'd'],
          ['x-letters', '\u2603'],
        ],
      }),
    ],
    bodies: new Map([['a', body]]),
    arms: [{ name: 'as is', overrides: [] }],
    documentUrl: `${HOST}/`,
    takenAt: new Date().toISOString(),
    clock: null,
    certificate: { key: '', cert: '' },
    serverTimes: false,
    network: null,
    asProduction: false,
  });
  const [host] = await server.listen();
  port = host!.listen;
});
afterAll(() => server.close());

/** The first line of what is answered to a request as it is written. */
function asked(line: string, at: number): Promise<string> {
  return new Promise((resolve, reject) => {
    let said = '';
    const socket = connect(at, '127.0.0.1', () =>
      socket.write(`${line} HTTP/1.1\r\nHost: quay.test\r\nConnection: close\r\n\r\n`),
    );
    socket.on('data', (chunk) => (said += chunk.toString()));
    socket.on('close', () => resolve(said.split('\r\n')[0]!));
    socket.on('error', reject);
  });
}

it('refuses what asks for nothing that a capture holds, and goes on', async () => {
  for (const line of ['OPTIONS *', 'GET http://[', 'GET http://elsewhere.test/', 'GET //['])
    expect(await asked(line, port), line).toMatch(/^HTTP\/1\.1 (400|404|504|502)/);
  expect(await asked('GET /', port)).toBe('HTTP/1.1 200 OK');
});

it('answers with what can be sent of statuses and headers that no server may send', async () => {
  for (const status of ['0', '99', '101', '103', '1000', '3.5', 'NaN'])
    expect(await asked(`GET /status/${status}`, port), status).toMatch(/^HTTP\/1\.1 502 /);
  const told = await fetch(`http://127.0.0.1:${port}/headers`);
  expect(await told.text()).toBe('Quay');
  expect([...told.headers.keys()].filter((name) => /^x|cookie/.test(name))).toEqual(['x-told']);
});
