import { expect, it } from 'vitest';
import { paintHeldOf } from '../path/held.ts';
import { heldWords } from './held.ts';

const asset = (
  name: string,
  waitedMs: number,
  over: { kind?: 'document' | 'script'; hold?: 'holds' | 'crowds' } = {},
) => ({
  name,
  waitedMs,
  kind: over.kind ?? ('stylesheet' as const),
  hold: over.hold ?? ('holds' as const),
});
const words = (...assets: ReturnType<typeof asset>[]) => heldWords(paintHeldOf(assets));

it('names what a paint waited for most, and counts the rest', () => {
  const page = asset('/', 900, { kind: 'document' });
  const crowds = asset('hero.jpg', 700, { hold: 'crowds' });
  expect(words(page, crowds, asset('base.css', 40), asset('site.css', 610.4), asset('menu.js', 0))).toBe(
    'site.css, 610 ms, and 2 more',
  );
  expect(words(page, crowds, asset('site.css', 610.4))).toBe('site.css, 610 ms');
});

it('says it of a paint that waited for no asset beyond its HTML, or for none by itself', () => {
  expect(words(asset('/', 900, { kind: 'document' }), asset('hero.jpg', 700, { hold: 'crowds' }))).toBe(
    'its HTML alone',
  );
  expect(words(asset('a.css', 0), asset('b.css', 0))).toBe('2 assets');
  expect(words(asset('a.css', 0))).toBe('1 asset');
});
