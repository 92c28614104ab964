import type { PageScript } from '../page/page-assets.ts';
import type { ScriptFacts } from '../scripts/analyse.ts';
import { ANY_NAME } from '../scripts/effects.ts';
import { excerptAt, findingIn, placeOf } from './places.ts';
import type { Elsewhere, Refusal } from './refusal.ts';
import { insertedBy } from './sharing.ts';
import { findsAfter } from './sight.ts';
import type { Scene } from './treatment.ts';

/** What a name of its own distinguishes from any element of its sort: an id, a class, an attribute, a custom element. */
const NAMED = /[#.[]|^[a-z]+-/;
/** Marks of the root, and what is put into the page at its ends, count wherever a visitor is. */
const OF_WHOLE_PAGE = [
  'marks-root',
  'appends-to-body',
  'appends-to-head',
  'style-element',
  'hides-page',
] as const;
/** Through these everything of a page is reached. */
const WHOLE_PAGE = ['body', 'documentElement'];
const SENDS = ['sendBeacon', 'postMessage'];

/**
 * The selectors of all elements that a script works with, those of scripts that it puts into the page included; none
 * where none of them is in the HTML.
 */
export function elementsOf(script: PageScript, scene: Scene): readonly string[] {
  const all = factsOf(script, scene).flatMap(({ effects }) =>
    effects.elements.flatMap(({ selectors }) => [...selectors]),
  );
  const named = [...new Set(all)].filter((one) => NAMED.test(one.trim()));
  return named.some((one) => findsAfter(one, scene.page.document, -1)) ? named : [];
}

/** Why a script may be wanted although none of its elements is near: it works with more than them. Null where it does not. */
export function notOnlyThere(script: PageScript, scene: Scene): Refusal | null {
  const [own, ...inserted] = factsOf(script, scene);
  const { url, element } = script.element;
  const works = elsewhere(own!, url === null ? element.text : (scene.page.captured.text(url) ?? ''));
  const refusal = (what: Elsewhere, line: number): Refusal => ({
    code: 'not-only-there',
    works: what,
    place: placeOf(script, { line, excerpt: excerptAt(script, line) }),
  });
  if (works) return refusal(works.what, works.line);
  const found = findingIn(script, ...OF_WHOLE_PAGE);
  if (found) return { code: 'not-only-there', works: 'whole page', place: placeOf(script, found) };
  for (const facts of inserted) {
    const [finding] = facts.findings.filter(({ what }) => OF_WHOLE_PAGE.some((one) => one === what));
    if (facts.unreadable !== null) return refusal('unreadable', 1);
    const works = finding ? 'whole page' : elsewhere(facts, '')?.what;
    if (works) return refusal(works, 1);
  }
  return null;
}

function factsOf(script: PageScript, { page }: Scene): ScriptFacts[] {
  return [script.facts, ...insertedBy(page, script).map((url) => page.captured.factsAt(url))];
}

/** @param text where the lines are looked for of what is known by more than one */
function elsewhere({ effects }: ScriptFacts, text: string): { what: Elsewhere; line: number } | null {
  const { accesses, elements, properties, hearsPage } = effects;
  const unknown = elements.find(({ seeks }) => seeks === null);
  if (unknown) return { what: 'unknown elements', line: unknown.line };
  const any = accesses.find(({ name }) => name === ANY_NAME);
  if (any) return { what: 'unknown elements', line: any.line };
  // Elements of a sort are anywhere.
  for (const { selectors, line } of elements) {
    const sort = [...selectors].find((one) => !NAMED.test(one.trim()));
    if (sort !== undefined) return { what: 'elements of a sort', line: lineOf(sort, text) ?? line };
  }
  if (hearsPage !== null) return { what: 'hears page', line: hearsPage };
  const whole = WHOLE_PAGE.flatMap((one) => properties.get(one) ?? []);
  if (whole.length) return { what: 'whole page', line: whole[0]! };
  const keeps = accesses.find(
    ({ name, kind }) => kind === 'write' && /^(document\..*|localStorage|sessionStorage)$/.test(name),
  );
  if (keeps)
    return { what: keeps.name === 'document.title' ? 'whole page' : 'tells others', line: keeps.line };
  const sends = SENDS.flatMap((one) => properties.get(one) ?? []);
  return sends.length ? { what: 'tells others', line: sends[0]! } : null;
}

/** The line where a selector stands as a literal; null where it is put together. */
function lineOf(selector: string, text: string): number | null {
  const at = ['"', "'", '`']
    .map((quote) => text.indexOf(`${quote}${selector}${quote}`))
    .filter((one) => one >= 0);
  return at.length ? text.slice(0, Math.min(...at)).split('\n').length : null;
}
