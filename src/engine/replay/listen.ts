import type { AddressInfo, Server } from 'node:net';

/** Opens a free port on loopback. @returns its number */
export function listenOn(server: Server): Promise<number> {
  return new Promise((resolve, reject) => {
    server.once('error', reject);
    server.listen(0, '127.0.0.1', () => resolve((server.address() as AddressInfo).port));
  });
}
