import { lineKey, type BillSegment } from './bill.ts';

/**
 * What each line of a bill is known by, so that a remark finds it again in the next measurement's bill: its key, counted
 * where several lines have the same one.
 *
 * @example
 * lineCodes(bill) // ['parse', 'script-ran https://quay.test/lib.js', 'parse (2)']
 */
export function lineCodes(bill: readonly Pick<BillSegment, 'code' | 'url'>[]): string[] {
  const times = new Map<string, number>();
  return bill.map((segment) => {
    const key = lineKey(segment);
    const time = (times.get(key) ?? 0) + 1;
    times.set(key, time);
    return time === 1 ? key : `${key} (${time})`;
  });
}

/**
 * The line that a remark is about; -1 where the bill has none such. Remarks made before lines had codes name them by
 * their words.
 */
export function lineAbout(
  bill: readonly (Pick<BillSegment, 'code' | 'url'> & { label: string })[],
  line: string,
): number {
  const byCode = lineCodes(bill).indexOf(line);
  return byCode >= 0 ? byCode : bill.findIndex(({ label }) => label === line);
}
