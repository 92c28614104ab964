import { faultsOf, type Rehearsal } from '../rehearse/rehearsal.ts';

/** What rehearsing says of a plan, in a sentence. @param own whether the plan is the user's: its faults are in it still */
export function rehearsedSentence(rehearsal: Omit<Rehearsal, 'plan'> | null, own: boolean): string {
  if (!rehearsal) return 'Not rehearsed: legal by reading alone, and reading can be wrong.';
  const faults = faultsOf(rehearsal).length;
  if (rehearsal.gaveUp && !own) return 'Rehearsed: too many rules are at fault, so nothing is recommended.';
  if (faults && own)
    return `Rehearsed: ${faults === 1 ? 'one rule changes' : `${faults} rules change`} what the page becomes. Do not use it as it is.`;
  const { held, left, deeds } = rehearsal;
  if (held === 0)
    return 'Not rehearsed: there was nothing to rehearse, or no time for a single order of arrival.';
  const orders = left.length ? `${held}` : `all ${held}`;
  const excepted = faults
    ? ` ${faults === 1 ? 'One rule was' : `${faults} rules were`} at fault, and excepted.`
    : '';
  const done = deeds.filter((one) => one.undecided === null).length;
  return `Rehearsed: in ${orders} orders of arrival${done ? `, and with ${thingsDone(done)},` : ''} the page becomes what it is as authored.${excepted}`;
}

/** "one thing done on it as a visitor would", "14 things …". */
export function thingsDone(number: number): string {
  return `${number === 1 ? 'one thing' : `${number} things`} done on it as a visitor would`;
}

/** What else is to be known of a rehearsal, each as a sentence. */
export function rehearsalRemarks({
  left,
  races,
  masked,
  byItself,
  deeds,
}: Pick<Rehearsal, 'left' | 'races' | 'masked' | 'byItself' | 'deeds'>): string[] {
  return [
    ...deeds.flatMap(({ words, undecided }) => (undecided ? [`Undecided, ${words}: ${undecided}.`] : [])),
    ...(left.length ? [`Not rehearsed for want of time: ${left.join('; ')}.`] : []),
    ...(races.length ? [`Different from order to order as authored: ${races.join('; ')}.`] : []),
    ...(byItself.length
      ? [`The page changes by itself, and what it changes is not compared: ${byItself.join('; ')}.`]
      : []),
    ...(masked.length ? [`Not the same twice as authored, so not compared: ${masked.join('; ')}.`] : []),
  ];
}
