import type { IncomingMessage, RequestListener, ServerResponse } from 'node:http';
import type { AddressInfo, Server } from 'node:net';

/** Opens a free port on loopback. @returns its number */
export function listenOn(server: Server): Promise<number> {
  return new Promise((resolve, reject) => {
    server.once('error', reject);
    server.listen(0, '127.0.0.1', () => resolve((server.address() as AddressInfo).port));
  });
}

/** The path of a request that names one; null for what does not ("OPTIONS *", a whole address, as proxies are asked). */
function pathOf({ url = '' }: IncomingMessage): string | null {
  return url.startsWith('/') ? url : null;
}

/** Answers requests; one that cannot be answered is refused, and costs no other one its answer. */
export function answering(
  answer: (path: string, request: IncomingMessage, response: ServerResponse) => void,
): RequestListener {
  return (request, response) => {
    const path = pathOf(request);
    if (path === null) {
      refuse(response, 400);
      return;
    }
    orRefuse(response, () => answer(path, request, response));
  };
}

/** Does something that answers; what goes wrong in it is the end of this answer only. */
export function orRefuse(response: ServerResponse, act: () => void): void {
  try {
    act();
  } catch {
    refuse(response, 502);
  }
}

function refuse(response: ServerResponse, status: number): void {
  if (response.headersSent) {
    response.destroy();
    return;
  }
  response.writeHead(status, { 'content-type': 'text/plain' });
  response.end(
    status === 400 ? 'This asks for nothing that a capture holds.' : 'This answer cannot be sent.',
  );
}
