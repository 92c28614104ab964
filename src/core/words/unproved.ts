import type { FoldRecord } from '../fold/record.ts';

/** Why a page's fold CSS is not used by recommendation; empty where it is proved, or there is none. */
export function unprovedWords(fold: Pick<FoldRecord, 'proved' | 'remarks'> | null): string[] {
  if (!fold || fold.proved) return [];
  return ['The fold CSS is not proved, so that nothing is recommended with it:', ...fold.remarks];
}
