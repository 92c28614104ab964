import { bytes, ms } from '../path/words.ts';
import type { OutsideHost } from '../path/outside-hosts.ts';

/** What is asked of a host: "3 requests: script, font". */
export function askedWords({ requests, kinds }: OutsideHost): string {
  return `${requests === 1 ? 'one request' : `${requests} requests`}: ${kinds.join(', ')}`;
}

/** With which credentials it is asked: connections of one sort are of no use to the other. */
export function sortsWords({ sorts }: OutsideHost): string {
  if (sorts.length === 2) return 'with and without credentials';
  return sorts[0] === 'anonymous'
    ? 'without credentials'
    : sorts[0] === 'credentialed'
      ? 'with credentials'
      : '';
}

/** What its connections cost: "395 ms, 380 ms". */
export function connectionWords({ connectMs }: OutsideHost): string {
  return connectMs.length ? connectMs.map(ms).join(', ') : 'none seen';
}

/** The list as text, one host a line, as it is put into tickets and mails. */
export function hostsText(hosts: readonly OutsideHost[]): string {
  return hosts
    .map((host) =>
      [
        host.origin,
        `${askedWords(host)}, ${bytes(host.wireBytes)}`,
        `first at ${ms(host.firstMs)}${host.beforePaint ? ', before the paint' : ''}`,
        `connection: ${connectionWords(host)}`,
        sortsWords(host),
        host.hinted.length ? `hinted: ${host.hinted.join(', ')}` : '',
      ]
        .filter(Boolean)
        .join('; '),
    )
    .join('\n');
}
