import type { NavigationResult } from '../next/navigation.ts';
import { ms } from '../path/words.ts';

/** What asking ahead does for the way from one page to another, and what it costs, in sentences. */
export function navigationWords(result: NavigationResult, from: string, to: string): string {
  const { withoutMs, aheadMs, paint, ownPaint } = result;
  if (withoutMs === null || aheadMs === null)
    return `${to} showed nothing after its link was pressed, so nothing can be said.`;
  const times = `${ms(aheadMs)} after its link is pressed, ${ms(withoutMs)} when nothing is asked for ahead`;
  const clear = {
    earlier: '',
    later: ': later',
    'no clear difference': ': no clear difference',
    'too few runs to say': ': too few ways to say',
  }[paint.verdict];
  const cost = {
    earlier: `${from} itself shows its first content no later.`,
    'no clear difference': `${from} itself shows its first content no later.`,
    later: `${from} itself shows its first content ${ms(ownPaint.differenceMs)} later.`,
    'too few runs to say': `What it costs ${from} itself cannot be said.`,
  }[ownPaint.verdict];
  return `${to} shows its first content ${times}${clear}. ${cost}`;
}
