import { HEADLINE_NAMES, type HeadlineKey } from '../measure/headline.ts';
import { capital, ms } from '../path/words.ts';
import { matchText, type Plan } from '../treat/plan.ts';
import { treatmentLabel, treatmentOf } from '../treat/treatments/index.ts';
import { LEAST_LEFT_MS, type LeftLine, type WhatIsLeft } from '../trial/what-is-left.ts';
import { billWords } from './bill.ts';

/** The way to the server and its answer: no page is without them, and its floor has them too. */
const OF_ANY_PAGE: ReadonlySet<LeftLine['code']> = new Set([
  'redirect',
  'setting-out-anew',
  'page-connecting',
  'page-answering',
]);

/** What a treated paint waits for longest besides what any page waits for; that, where there is nothing else. */
export function inTheWay({ lines }: WhatIsLeft): LeftLine[] {
  const left = lines.filter((one) => one.treatedMs >= LEAST_LEFT_MS);
  const own = left.filter(({ code }) => !OF_ANY_PAGE.has(code));
  return (own.length ? own : left).slice(0, 2);
}

/** What is left of a treated paint, in a sentence. */
export function leftSentence(left: WhatIsLeft, headline: HeadlineKey): string {
  const { treatedMs, floorMs } = left;
  const above =
    floorMs === null
      ? ''
      : treatedMs - floorMs < LEAST_LEFT_MS
        ? ', which is its floor'
        : `, ${ms(treatedMs - floorMs)} above its floor`;
  const longest = inTheWay(left);
  const besides = longest.some(({ code }) => !OF_ANY_PAGE.has(code)) ? 'besides the way to the server ' : '';
  const told = longest.map((one) => `${billWords(one).label} (${ms(one.treatedMs)})`).join(' and ');
  return `${capital(HEADLINE_NAMES[headline])} is left at ${ms(treatedMs)}${above}${told ? `; ${besides}it waits longest for ${told}` : ''}.`;
}

/** What can still be done about a line, or why nothing can. */
export function leftTodo(line: LeftLine, plan: Plan, documentUrl: string): string {
  if (line.treatedMs < LEAST_LEFT_MS) return line.asIsMs >= LEAST_LEFT_MS ? 'gone' : '';
  const { url, kind } = line;
  const rule = url === undefined ? undefined : plan.rules.find((one) => matchText(one.match) === url);
  if (rule?.on && rule.treatment !== 'as-authored') {
    const already = `already: ${treatmentLabel(rule.kind, rule.treatment)}`;
    // It is waited for as before, if not as long: why is still to be told.
    return treatmentOf(rule.kind, rule.treatment)?.onlySooner ? `${already}. ${rule.reason}` : already;
  }
  if (rule) return rule.reason;
  if (url === undefined || url === documentUrl) {
    if (kind === 'server' || kind === 'connect' || kind === 'redirect')
      return 'the server, or the way to it: nothing in the page can change that';
    if (kind === 'bytes') return 'the HTML itself: a smaller page arrives sooner';
    if (kind === 'unexplained' || kind === 'start') return 'nothing here can change that';
    if (kind === 'running') return 'scripts that stand in the page: see Treat';
    return 'the browser’s own work: less HTML and fewer rules make it shorter';
  }
  return kind === 'running'
    ? 'it runs by itself, or is put in by another'
    : 'no treatment is known for it here';
}
