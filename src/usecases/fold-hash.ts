import { createHash } from 'node:crypto';
import type { FoldRecord } from '../core/fold/record.ts';

/** What of fold CSS reaches the treated page, as a hash. */
export function foldHash({ sheets, late }: Pick<FoldRecord, 'sheets' | 'late'>): string {
  const text = JSON.stringify([
    sheets.map(({ url, css }) => [url, css]),
    (late?.files ?? []).map(({ sheetUrl, css }) => [sheetUrl, css]),
  ]);
  return createHash('sha256').update(text).digest('hex');
}

/** The hash, and whether the fold CSS may be used: that is what a trial was of. Null for none. */
export function foldMark(
  fold: (Pick<FoldRecord, 'sheets' | 'late' | 'proved'> & { accepted?: boolean }) | null,
): string | null {
  return fold && markOf(foldHash(fold), fold.proved || (fold.accepted ?? false));
}

/** The same where the hash is known already. */
export function markOf(hash: string, usable: boolean): string {
  return `${hash} ${usable ? 'used' : 'not used'}`;
}
