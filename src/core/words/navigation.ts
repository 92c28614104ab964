import type { NavigationResult } from '../next/navigation.ts';
import { fileNameOf } from '../path/names.ts';
import { ms } from '../path/words.ts';
import { ONE_FRAME_MS, type PairedDifference } from '../trial/statistics.ts';

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
  return `${to} shows its first content ${times}${clear}.${bothWords(result, to)} ${costWords(ownPaint, from)}`;
}

function bothWords({ both, nextPlan }: NavigationResult, to: string): string {
  if (nextPlan.state === 'differs')
    return ` The plan of ${to} was not tried as well: both plans change ${fileNameOf(nextPlan.url)}, each in its own way.`;
  if (!both || both.paintMs === null) return '';
  const than = {
    earlier: '',
    later: ', later than with neither',
    'no clear difference': ', no clear difference to neither',
    'too few runs to say': ', too few ways to say',
  }[both.paint.verdict];
  return ` With the plan of ${to} as well: ${ms(both.paintMs)}${than}.`;
}

/** What is not clear is not called nothing: how much it may be is said. */
function costWords({ verdict, differenceMs, low, high }: PairedDifference, from: string): string {
  if (verdict === 'later') return `${from} itself shows its first content ${ms(differenceMs)} later.`;
  if (verdict === 'earlier') return `${from} itself shows its first content no later.`;
  if (low === null || high === null) return `What it costs ${from} itself cannot be said.`;
  const most = high > ONE_FRAME_MS ? ` (${ms(high)} at most)` : '';
  return `${from} itself shows its first content not surely later${most}.`;
}
