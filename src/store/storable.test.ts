import { emptyData } from '../../tests/data-folders.ts';
import { expect, it } from 'vitest';
import { openDatabase } from './database.ts';
import { jsonOf } from './storable.ts';

/** What a page may hold: a NUL, half a surrogate pair, a whole one, and texts that only look like their escapes. */
const ODD = { title: 'a\0b', words: ['\ud83d', '😀', '\\u0000', '\\\\ud800'], '\0': 'key' };
const KEPT = { title: 'a\ufffdb', words: ['\ufffd', '😀', '\\u0000', '\\\\ud800'], '\ufffd': 'key' };

it('keeps whatever a page holds: what the database knows no character for is replaced, the rest is as it was', async () => {
  const database = await openDatabase(emptyData(), 'a test');
  try {
    const [row] = await database.query<{ json: unknown; text: string }>(
      'SELECT $1::jsonb AS json, $2::text AS text',
      [jsonOf(ODD), `${ODD.title} ${ODD.words.join(' ')}`],
    );
    expect(row!.json).toEqual(KEPT);
    expect(row!.text).toBe(`${KEPT.title} ${KEPT.words.join(' ')}`);
    const [inside] = await database.transaction((queries) =>
      queries.query<{ text: string }>('SELECT $1::text AS text', [ODD.title]),
    );
    expect(inside!.text).toBe(KEPT.title);
  } finally {
    await database.close();
  }
});
