import type { Header } from './exchange.ts';

/** The value of a header, by its name in lower case; undefined where it is not there (RFC 9110, section 5.1). */
export function headerOf(headers: readonly Header[], name: string): string | undefined {
  return headers.find(([one]) => one.toLowerCase() === name)?.[1];
}

/** All values of a header that came more than once. */
export function headersOf(headers: readonly Header[], name: string): string[] {
  return headers.filter(([one]) => one.toLowerCase() === name).map(([, value]) => value);
}

/** The encoding that a body came in, in lower case; null where it came as it is (RFC 9110, section 8.4). */
export function contentEncodingOf(headers: readonly Header[]): string | null {
  const value = headerOf(headers, 'content-encoding')?.trim().toLowerCase();
  return !value || value === 'identity' ? null : value;
}

/** For how long an answer may be used again without asking, s (RFC 9111, 4.2.1); null where it does not say. */
export function lifetimeOf(headers: readonly Header[]): number | null {
  const control = headersOf(headers, 'cache-control').join(',');
  if (/no-store|no-cache/i.test(control)) return 0;
  const age = /max-age\s*=\s*"?(\d+)/i.exec(control)?.[1];
  if (age !== undefined) return Number(age);
  const expires = headerOf(headers, 'expires');
  if (expires === undefined) return null;
  const lasts = (Date.parse(expires) - Date.parse(headerOf(headers, 'date') ?? '')) / 1_000;
  // A date that cannot be read means that it is stale already.
  return Number.isFinite(lasts) ? Math.max(0, lasts) : 0;
}
