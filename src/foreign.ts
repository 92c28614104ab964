/** Names under which this application may be asked: loopback only. */
const OWN_HOST = /^(127\.0\.0\.1|localhost|\[::1\])(:\d+)?$/;

export const REFUSED = {
  error: 'Refused: this application answers only its own pages on this machine.',
};

/**
 * True for what another site's page could send: a foreign Host (a name pointed at loopback), a foreign Origin,
 * or a request that the browser itself calls cross-site or same-site but of another origin.
 */
export function isForeign(request: Request): boolean {
  const host = request.headers.get('host') ?? '';
  const origin = request.headers.get('origin');
  const site = request.headers.get('sec-fetch-site');
  const foreignOrigin = origin !== null && origin !== `http://${host}`;
  const isApi = new URL(request.url).pathname.startsWith('/api/');
  const foreignSite = isApi && site !== null && site !== 'same-origin' && site !== 'none';
  return !OWN_HOST.test(host) || foreignOrigin || foreignSite;
}
