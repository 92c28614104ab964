import { expect, it } from 'vitest';
import { momentIn } from './page-data.ts';

it('knows an address that is made anew at each visit', () => {
  const now = Date.parse('2026-11-03T10:00:00.000Z');
  expect(momentIn(`https://quay.test/tides?_=${now + 900}`, now)).toBe(String(now + 900));
  expect(momentIn(`https://quay.test/${Math.round(now / 1_000) + 2}/tides.json`, now)).toBe(
    String(Math.round(now / 1_000) + 2),
  );
  expect(momentIn('https://quay.test/tides?r=0.8472610394', now)).toBe('0.8472610394');
  // A number of an article, of a year, or of a place is none.
  expect(momentIn('https://quay.test/tides?id=1234567890&year=2026&lat=0.57', now)).toBeNull();
  expect(momentIn('https://quay.test/tides', now)).toBeNull();
  expect(momentIn(`https://quay.test/tides?_=${now}`, null)).toBeNull();
});
