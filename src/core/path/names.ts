/** Host with port, as the URL says it; empty for data: and blob: URLs. */
export function hostOf(url: string): string {
  try {
    return new URL(url).host;
  } catch {
    return '';
  }
}

/** What a host is told by where it only has to be told from others: its first label, or all of an address. */
export function shortHost(host: string): string {
  return /^[\d.]+(:\d+)?$|^\[/.test(host) ? host : host.split('.')[0]!;
}

/** The last part of a URL's path, for labels; the host for a bare root. */
export function fileNameOf(url: string): string {
  if (url.startsWith('data:')) return 'data: URL';
  try {
    const { pathname, hostname } = new URL(url);
    return pathname.split('/').filter(Boolean).at(-1) ?? hostname;
  } catch {
    return url;
  }
}
