import { describe, expect, it } from 'vitest';
import { isNotModified, moveDates } from './headers.ts';

const DAY = 86_400_000;

describe('moveDates', () => {
  it('moves expiry dates, of cookies too, and leaves what names a version', () => {
    expect(
      moveDates(
        [
          ['Expires', 'Tue, 03 Nov 2026 10:00:00 GMT'],
          ['Last-Modified', 'Tue, 03 Nov 2026 10:00:00 GMT'],
          ['Set-Cookie', 'a=1; Expires=Tue, 03 Nov 2026 10:00:00 GMT; Path=/'],
          ['Set-Cookie', 'b=2; Path=/'],
        ],
        2 * DAY,
      ),
    ).toEqual([
      ['Expires', 'Thu, 05 Nov 2026 10:00:00 GMT'],
      ['Last-Modified', 'Tue, 03 Nov 2026 10:00:00 GMT'],
      ['Set-Cookie', 'a=1; Expires=Thu, 05 Nov 2026 10:00:00 GMT; Path=/'],
      ['Set-Cookie', 'b=2; Path=/'],
    ]);
  });

  it('leaves what is no date: "0" and "-1" mean stale', () => {
    expect(moveDates([['Expires', '-1x']], DAY)).toEqual([['Expires', '-1x']]);
  });
});

describe('isNotModified', () => {
  const headers = [
    ['ETag', 'W/"v1"'],
    ['Last-Modified', 'Tue, 03 Nov 2026 10:00:00 GMT'],
  ] as const;
  const ask = (ifNoneMatch?: string, ifModifiedSince?: string) =>
    isNotModified({ ifNoneMatch, ifModifiedSince }, headers);

  it('compares entity tags weakly, and asks the date only where there is no tag', () => {
    expect(ask('"v1"')).toBe(true);
    expect(ask('"v0", W/"v1"')).toBe(true);
    expect(ask('"v2"', 'Wed, 04 Nov 2026 10:00:00 GMT')).toBe(false);
    expect(ask(undefined, 'Wed, 04 Nov 2026 10:00:00 GMT')).toBe(true);
    expect(ask(undefined, 'Mon, 02 Nov 2026 10:00:00 GMT')).toBe(false);
    expect(ask()).toBe(false);
  });
});
