import type { PaintHeld } from '../path/held.ts';
import { ms } from '../path/words.ts';

/** What a paint waited for, in a few words: "site.css, 610 ms, and 10 more". */
export function heldWords({ assets, first }: PaintHeld): string {
  if (assets === 0) return 'its HTML alone';
  if (!first) return assets === 1 ? '1 asset' : `${assets} assets`;
  const others = assets - 1;
  return `${first.name}, ${ms(first.waitedMs)}${others ? `, and ${others} more` : ''}`;
}
