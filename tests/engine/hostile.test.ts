import { rmSync } from 'node:fs';
import { afterAll, beforeAll, expect, it, vi } from 'vitest';
import { applicationDatabase } from '@/usecases/application';
import { seededData } from '../data-folders.ts';
import { tryHostile } from '../hostile/try-all.ts';

beforeAll(async () => {
  process.env['WISTREL_DATA'] = await seededData();
  // A reader of CSV says on the console what it makes of headings.
  vi.spyOn(console, 'warn').mockReturnValue(undefined);
});
afterAll(async () => {
  await (await applicationDatabase()).close();
  rmSync(process.env['WISTREL_DATA']!, { recursive: true, force: true });
});

it('takes what is hostile, or refuses it in a sentence: no crash, no hang, no answer 500', async () => {
  // `npm run bench -- hostile` tries ten thousand others.
  const counts = { pages: 40, har: 150, plans: 150, decisions: 150, texts: 300, requests: 100 };
  for (const { kind, count, refused, broke } of await tryHostile(counts, 20_261_129)) {
    expect(broke, kind).toEqual([]);
    // Some of each are readable, and some are not: else nothing was tried.
    if (kind !== 'pages') expect(refused, kind).toBeGreaterThan(0);
    expect(refused, kind).toBeLessThan(count);
  }
});
