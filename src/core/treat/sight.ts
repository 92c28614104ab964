import type { ElementPlace, HtmlDocument } from '../html/document.ts';
import { chainOf, isLike, liesIn } from '../html/selector-chain.ts';
import type { PageAssets, PageScript } from '../page/page-assets.ts';
import { authoredMoment, type Moment } from './order.ts';
import { excerptAt, findingIn, placeOf } from './places.ts';
import type { Refusal } from './refusal.ts';

/**
 * Why a script that runs where it stands cannot run later: it would see more of the page than it does there, or put
 * something somewhere else. Null where neither is so.
 *
 * @param moment when it would run; as authored where it is not given
 */
export function sightRefusal(
  page: PageAssets,
  script: PageScript,
  moment: Moment | undefined,
): Refusal | null {
  if (moment === undefined || moment === 'place' || moment === 'never') return null;
  if (authoredMoment(script) !== 'place') return null;
  const { end, inHead } = script.element.element;
  const after = page.document.places.filter((place) => place.startTagEnd > end);
  const shown = after.filter((place) => !UNSEEN.test(tagOf(place)));
  const puts = findingIn(script, 'appends-to-body');
  if (puts && shown.length && !inHead) return { code: 'puts-here', place: placeOf(script, puts) };
  const styles = findingIn(script, 'appends-to-head') && findingIn(script, 'style-element');
  const sheetsAfter = page.styles.some((style) => style.element.element.start >= end);
  if (styles && sheetsAfter) return { code: 'puts-here', place: placeOf(script, styles) };
  for (const { phase, seeks, selectors, line } of script.facts.effects.elements) {
    if (phase !== 'run' && phase !== 'perhaps') continue;
    const place = placeOf(script, { line, excerpt: excerptAt(script, line) });
    if (seeks === null && shown.length) return { code: 'sees-more', token: '*', place };
    const more = [...selectors].find((selector) => findsAfter(selector, page.document, end));
    if (more !== undefined) return { code: 'sees-more', token: more, place };
  }
  return null;
}

/** What nobody sees: that more of it stands after a script changes nothing for it. */
const UNSEEN = /^(script|link|style|meta|title|base|noscript|template|head|body|html)$/;

function tagOf({ name }: ElementPlace): string {
  return /^[^#.]*/.exec(name)![0];
}

/** Whether a selector finds an element that begins after a place in the page. What cannot be told counts as found. */
export function findsAfter(list: string, document: HtmlDocument, from: number): boolean {
  return list.split(',').some((selector) => {
    const chain = chainOf(selector);
    const last = chain.at(-1);
    if (last === undefined || UNSEEN.test(/^[\w-]*/.exec(last)![0])) return false;
    const around: ElementPlace[] = [];
    for (const place of document.places) {
      around.length = Math.min(around.length, place.depth);
      const found =
        place.startTagEnd > from &&
        !(UNSEEN.test(tagOf(place)) && last === '*') &&
        isLike(last, place) &&
        liesIn(chain.slice(0, -1), around);
      if (found) return true;
      around[place.depth] = place;
    }
    return false;
  });
}
