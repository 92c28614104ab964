import { describe, expect, it } from 'vitest';
import { arrivalOrders } from './arrival.ts';
import { findFault } from './find-fault.ts';
import {
  differencesBetween,
  maskOf,
  NO_MASK,
  wasLost,
  withRaces,
  type Outcome,
  type SeenElement,
} from './outcome.ts';

const element = (name: string, text = '', attributes = '', left = 0): SeenElement => ({
  name,
  depth: 1,
  text,
  attributes: attributes ? [attributes] : [],
  box: [left, 0, 10, 10],
});
const outcome = (over: Partial<Outcome> = {}): Outcome => ({
  elements: [element('p', 'Quay')],
  globals: ['tide'],
  errors: [],
  requests: ['GET https://quay.test/'],
  facts: ['has the title “Quay”'],
  roles: ['button “Menu”'],
  ...over,
});
const words = (authored: Outcome, treated: Outcome, mask = NO_MASK) =>
  differencesBetween(authored, treated, mask).map((one) => one.words);

describe('a page as treated, held to itself as authored', () => {
  it('is the same where nothing is lost', () => {
    expect(words(outcome(), outcome({ globals: ['tide', 'more'] }))).toEqual([]);
  });

  it.each([
    [{ globals: [] }, 'does not define “tide”'],
    [{ errors: ['TypeError: tide is not a function'] }, 'has an error: TypeError: tide is not a function'],
    [{ requests: [] }, 'does not ask for https://quay.test/'],
    [{ facts: ['has the title “Pier”'] }, 'has the title “Pier”, as it does not as authored'],
    [{ facts: [] }, 'no longer has the title “Quay”'],
    [{ roles: [] }, 'no longer tells those who do not see it of button “Menu”'],
    [{ elements: [] }, 'lacks p “Quay”'],
    [{ elements: [element('p', 'Quay'), element('b', 'new')] }, 'has b “new”, which it has not as authored'],
    [{ elements: [element('p', 'Quay', '', 40)] }, 'shows p “Quay” at another place, or in another size'],
  ] as [Partial<Outcome>, string][])('%o', (over, said) => {
    expect(words(outcome(), outcome(over))).toEqual([said]);
  });

  it('is not held to what is not the same twice as authored', () => {
    const other = outcome({ elements: [element('p', 'Pier')], globals: ['tide', 'r1'] });
    const mask = maskOf(outcome(), other);
    expect(words(outcome(), other, mask)).toEqual([]);
    expect(words(outcome(), outcome({ globals: [] }), mask)).toEqual(['does not define “tide”']);
  });

  it('lets what moves be shown anywhere, also beside what is another each time', () => {
    const clouds = (left: number, slide: string) =>
      outcome({
        elements: [element('div.clouds', '', '', left), element('li', slide), element('p', 'Quay')],
      });
    const mask = maskOf(clouds(0, 'one'), clouds(40, 'two'));
    expect(words(clouds(0, 'one'), clouds(70, 'two'), mask)).toEqual([]);
    const moved = {
      ...clouds(70, 'two'),
      elements: [...clouds(70, 'two').elements.slice(0, 2), element('p', 'Quay', '', 9)],
    };
    expect(words(clouds(0, 'one'), moved, mask)).toEqual([
      'shows p “Quay” at another place, or in another size',
    ]);
  });

  it('lets attributes go that depend on the order of arrival, and nothing else', () => {
    const marked = outcome({ elements: [element('p', 'Quay', 'data-variant=a')] });
    const mask = withRaces(NO_MASK, outcome(), [marked, outcome({ elements: [], globals: [] })]);
    expect(words(outcome(), marked, mask)).toEqual([]);
    expect(words(outcome(), outcome({ elements: [], globals: [] }), mask)).toEqual([
      'does not define “tide”',
      'lacks p “Quay”',
    ]);
  });
});

describe('finding what is at fault', () => {
  const among = (guilty: string[]) => (some: readonly string[]) =>
    Promise.resolve(guilty.every((one) => some.includes(one)));

  it('finds the one of many', async () => {
    expect(await findFault([...'abcdefgh'], [], among(['f']))).toBe('f');
  });

  it('asks the likeliest first, and each by itself', async () => {
    const asked: string[] = [];
    const fails = (some: readonly string[]) => {
      asked.push(some.join(''));
      return among(['g'])(some);
    };
    expect(await findFault([...'abcdefgh'], ['c', 'g'], fails)).toBe('g');
    expect(asked).toEqual(['c', 'g']);
    expect(await findFault([...'abcdefgh'], ['c', 'd'], fails)).toBe('g');
  });

  it('finds one of two that only fail together', async () => {
    expect(['b', 'g']).toContain(await findFault([...'abcdefgh'], [], among(['b', 'g'])));
  });
});

describe('orders of arrival', () => {
  const lib = 'https://quay.test/lib.js';

  it('hold back what the plan touches, what it does not, sheets, and other hosts', () => {
    const gate = 'https://quay.test/wistrel/second-half.js';
    const orders = arrivalOrders([lib], ['count.test'], gate);
    const ranks = (id: string, url: string, kind = 'script') =>
      orders.find((one) => one.id === id)!.rank(url, kind);
    expect(orders.map((one) => one.words)).toEqual([
      'as recorded',
      'what the plan touches first',
      'reversed',
      'lib.js held until all else rests',
      'stylesheets and fonts last',
      'the second half of the page last',
      'count.test does not answer',
    ]);
    expect([ranks('touched first', lib), ranks('touched first', 'https://quay.test/b.js')]).toEqual([0, 1]);
    expect([ranks(`held ${lib}`, lib), ranks(`held ${lib}`, 'https://quay.test/b.js')]).toEqual([1, 0]);
    expect(ranks('sheets last', 'https://quay.test/a.css', 'stylesheet')).toBe(1);
    expect([ranks('second half last', gate), ranks('second half last', lib)]).toEqual([1, 0]);
    expect([...orders.at(-1)!.failing!]).toEqual(['count.test']);
  });
});

describe('what was done early', () => {
  const menu = (state: string) => element('nav', '', state);
  const [untouched, open] = [outcome({ elements: [menu('shut')] }), outcome({ elements: [menu('open')] })];
  const atRest = { before: untouched, after: open };

  it('was lost where what answers it at rest has not happened, though the page was scrolled to it', () => {
    expect(wasLost(untouched, untouched, atRest)).toBe(true);
    const scrolled = outcome({ elements: [menu('shut'), element('a', '', 'seen')] });
    expect(wasLost(untouched, scrolled, atRest)).toBe(true);
  });

  it('was not where it was answered, or nothing answers it at all', () => {
    expect(wasLost(untouched, open, atRest)).toBe(false);
    expect(wasLost(untouched, untouched, { before: untouched, after: untouched })).toBe(false);
  });
});
