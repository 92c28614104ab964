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
