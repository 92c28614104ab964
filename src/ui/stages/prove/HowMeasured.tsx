'use client';
import { ms } from '@/core/path/words';
import type { ProveView } from '@/usecases/prove-view';
import { when } from '../../figures';

/** What was done for these figures, and what is to be known with them. */
export function HowMeasured({ data }: { data: ProveView }) {
  const runs = data.arms[0]!.metrics.length * 2;
  return (
    <p className="muted">
      {data.pairsTold} {runs}{' '}
      {data.visit === 'return' ? 'return visits, each right after a first one,' : 'runs'} on{' '}
      {when(data.takenAt)}, each watched for {ms(data.windowMs)}, after one discarded run of each arm; order
      drawn from seed {data.seed}. Final pictures are taken after a key press, when the page rests
      {data.visit === 'return' ? ', on a first visit.' : '.'}
      {data.quality.rejected.length
        ? ` ${data.quality.rejected.length} pairs were dropped and made again: ${[...new Set(data.quality.rejected)].join('; ')}.`
        : ' No pair had to be dropped.'}
      {data.quality.tooBusy
        ? ' The machine was too busy to trust these figures: end other programs and run the trial again.'
        : ''}
      {data.runsApart
        ? ' Scripts that wait for a visitor, or until their elements come near, may not run inside the window: their blocking time is then not in these figures, but in what is told of the first touch.'
        : ''}
    </p>
  );
}
