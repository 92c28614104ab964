import type { BillSegment } from './bill.ts';

/**
 * What each line of a bill is called, so that a remark finds it again in the next measurement's bill: its words,
 * counted where several lines have the same ones.
 *
 * @example
 * lineNames(bill) // ['parsing the page', 'running lib.js', 'parsing the page (2)']
 */
export function lineNames(bill: readonly Pick<BillSegment, 'label'>[]): string[] {
  const times = new Map<string, number>();
  return bill.map(({ label }) => {
    const time = (times.get(label) ?? 0) + 1;
    times.set(label, time);
    return time === 1 ? label : `${label} (${time})`;
  });
}
