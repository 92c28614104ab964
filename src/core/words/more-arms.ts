import { median } from '../measure/metrics.ts';
import { capital, ms } from '../path/words.ts';
import type { ArmId } from '../trial/arms.ts';
import type { ArmComparison, MoreArms } from '../trial/more-arms.ts';
import { armName } from './arms.ts';

/** What further arms of a trial came to, a sentence for each: "The ideal page paints at 780 ms: 120 ms earlier than …". */
export function moreArmsLines({ headline, beside, compared }: MoreArms): string[] {
  const verb = headline === 'firstPaintMs' ? 'paints' : 'shows its first content';
  return beside.map(({ id, metrics, leftOut }) => {
    const middle = median(metrics.flatMap((one) => one[headline] ?? []));
    const than = compared
      .filter((one) => one.other === id)
      .map((one) => `${comparedWords(one)} ${armName(one.one)}`)
      .join(', ');
    const left = leftOut.length ? ` ${leftOutWords(leftOut)}` : '';
    const name = id === 'other plan' ? 'the page with the other plan' : armName(id);
    return middle === null
      ? `${capital(name)} paints nothing that was seen.`
      : `${capital(name)} ${verb} at ${ms(middle)}: ${than}.${left}`;
  });
}

/** "2 of its rules were not carried out: …". */
export function leftOutWords(leftOut: readonly string[]): string {
  const count = leftOut.length === 1 ? 'One of its rules was' : `${leftOut.length} of its rules were`;
  return `${count} not carried out: ${[...new Set(leftOut)].join(' ')}`;
}

function comparedWords({ paint }: ArmComparison): string {
  switch (paint.verdict) {
    case 'too few runs to say':
      return 'too few runs to say whether that is other than';
    case 'no clear difference':
      return 'no clear difference to';
    default:
      return `${ms(Math.abs(paint.differenceMs))} ${paint.verdict} than`;
  }
}

/** How every two arms stand to each other, for a table: the difference of the row's arm less the column's, null where there is none. */
export function comparedWith(
  { compared }: MoreArms,
  row: ArmId,
  column: ArmId,
): ArmComparison['paint'] | null {
  return compared.find(({ one, other }) => one === column && other === row)?.paint ?? null;
}
