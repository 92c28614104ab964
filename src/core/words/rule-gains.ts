import { HEADLINE_NAMES } from '../measure/headline.ts';
import { capital, ms } from '../path/words.ts';
import type { RuleGains } from '../trial/rule-gains.ts';

/** What rules gained, in a sentence: how many bring it surely, and what comes later with them. */
export function ruleGainsSentence({ headline, asIsMs, steps }: RuleGains): string {
  const name = HEADLINE_NAMES[headline];
  const last = steps.at(-1)?.paintMs ?? null;
  if (asIsMs === null || last === null) return `No ${name} was seen in every arm, so nothing can be said.`;
  const earlier = steps.filter(({ gained }) => gained.verdict === 'earlier').length;
  const later = steps.filter(({ gained }) => gained.verdict === 'later').length;
  const of = `${steps.length} ${steps.length === 1 ? 'step' : 'steps'}`;
  const surely =
    earlier === 0
      ? `none of ${of} surely brings it earlier`
      : `${earlier} of ${of} surely ${earlier === 1 ? 'brings' : 'bring'} it earlier`;
  const worse = later === 0 ? '' : `, ${later} later`;
  return `${capital(name)} goes from ${ms(asIsMs)} to ${ms(last)}: ${surely}${worse}.`;
}
