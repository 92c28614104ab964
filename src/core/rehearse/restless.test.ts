import { describe, expect, it } from 'vitest';
import { differencesBetween, maskOf, NO_MASK, type Outcome, type SeenElement } from './outcome.ts';
import { nameOfSort, restlessAreas, restlessIn, steadied } from './restless.ts';
import { madeOutcome } from '../../../tests/engine/made-outcome.ts';

const element = (
  tag: string,
  depth: number,
  attributes: string[],
  box: SeenElement['box'] = [0, 0, 100, 50],
  text = '',
): SeenElement => {
  const [first] = (attributes.find((one) => one.startsWith('class='))?.slice(6) ?? '').split(' ');
  return { name: first ? `${tag}.${first}` : tag, depth, attributes, text, box };
};

/** Three slides in a row of which one is shown, with a dot for each, beside a menu. */
const show = (turn: number, menu = 'class=menu') =>
  madeOutcome([
    element('body', 1, []),
    ...[0, 1, 2].flatMap((slide) => [
      element(
        'div',
        2,
        [slide === turn ? 'class=slide on' : 'class=slide'],
        slide === turn ? [0, 0, 400, 200] : null,
      ),
      element('h2', 3, [], slide === turn ? [10, 10, 200, 40] : null, `Slide ${slide}`),
    ]),
    ...[0, 1, 2].map((dot) =>
      element('li', 2, [...(dot === turn ? ['class=on'] : []), `data-to=${dot}`], [dot * 20, 210, 10, 10]),
    ),
    element('nav', 2, [menu], [0, 300, 400, 40], 'Menu'),
  ]);
const said = (authored: Outcome, treated: Outcome, sorts = restlessIn(show(0), show(1))) =>
  differencesBetween(steadied(authored, sorts), steadied(treated, sorts), NO_MASK).map((one) => one.words);

describe('what a page does by itself', () => {
  it('is a fault to whoever does not know of it', () => {
    expect(said(show(0), show(2), [])).not.toEqual([]);
  });

  it('is held against nothing, in a state that was not seen either', () => {
    expect(said(show(0), show(1))).toEqual([]);
    expect(said(show(0), show(2))).toEqual([]);
    expect(said(show(2), show(1))).toEqual([]);
  });

  it('is told to those who do not see it by whatever it shows then; all else has to be told as it was', () => {
    const told = (turn: number, ...others: string[]) => ({
      ...show(turn),
      roles: [`heading “${turn} Slide”`, 'heading “Slide rules”', ...others],
    });
    expect(said(told(0), told(2))).toEqual([]);
    expect(said(told(0, 'button “Menu”'), told(2))).toEqual([
      'no longer tells those who do not see it of button “Menu”',
    ]);
  });

  it('is told by what stays of it', () => {
    expect(restlessIn(show(0), show(1)).map(nameOfSort)).toEqual(['div.slide', 'li']);
  });

  it('hides nothing else: another element, a word in a slide, a class that does not come and go', () => {
    expect(said(show(0), show(2, 'class=menu open'))).not.toEqual([]);
    const lost = show(2);
    expect(
      said(show(0), { ...lost, elements: lost.elements.filter(({ name }) => name !== 'nav.menu') }),
    ).toEqual([expect.stringContaining('lacks nav.menu “Menu”')]);
    const wordless = show(2);
    const elements = wordless.elements.map((one) => (one.text === 'Slide 2' ? { ...one, text: '' } : one));
    expect(said(show(0), { ...wordless, elements })).not.toEqual([]);
  });

  it('leaves boxes alone where nothing moves', () => {
    const lit = (on: boolean, left = 0) =>
      madeOutcome([
        element('body', 1, [on ? 'class=lit page' : 'class=page']),
        element('p', 2, [], [left, 0, 10, 10], 'Quay'),
      ]);
    const sorts = restlessIn(lit(false), lit(true));
    expect(said(lit(false), lit(true), sorts)).toEqual([]);
    expect(said(lit(false), lit(true, 30), sorts)).toEqual([
      'shows p “Quay” at another place, or in another size',
    ]);
    expect(restlessAreas(lit(true), sorts)).toEqual([]);
  });

  it('holds what stands in the page to its place, whatever becomes of the page as a whole', () => {
    const page = (turn: number, left = 0) => {
      const { elements } = show(turn);
      return madeOutcome([
        element('body', 1, [turn ? 'class=lit' : 'class=dark'], [0, 0, 400, 500 + 9 * turn]),
        ...elements.slice(1, -1),
        element('nav', 2, ['class=menu'], [left, 300, 400, 40], 'Menu'),
      ]);
    };
    const sorts = restlessIn(page(0), page(1));
    expect(said(page(0), page(1), sorts)).toEqual([]);
    expect(said(page(0), page(1, 40), sorts)).toEqual([
      'shows nav.menu “Menu” (class=menu) at another place, or in another size',
    ]);
    expect(restlessAreas(page(1), sorts)).not.toContainEqual({ left: 0, top: 0, width: 400, height: 509 });
  });

  it('knows what has neither a class nor an id that stays only by its name', () => {
    const clock = (time: string, other: string) =>
      madeOutcome([
        element('time', 2, ['id=clock'], [0, 0, 10, 10], time),
        element('time', 2, ['id=sailing'], [0, 0, 10, 10], other),
      ]);
    const sorts = restlessIn(clock('12:00', 'noon'), clock('12:01', 'noon'));
    expect(said(clock('12:00', 'noon'), clock('12:07', 'noon'), sorts)).toEqual([]);
    expect(said(clock('12:00', 'noon'), clock('12:00', 'never'), sorts)).not.toEqual([]);
  });

  it('is told where it is shown, with what stands in it', () => {
    expect(restlessAreas(show(1), restlessIn(show(0), show(1)))).toEqual([
      { left: 0, top: 0, width: 400, height: 200 },
      { left: 10, top: 10, width: 200, height: 40 },
      { left: 0, top: 210, width: 10, height: 10 },
      { left: 20, top: 210, width: 10, height: 10 },
      { left: 40, top: 210, width: 10, height: 10 },
    ]);
  });

  it('is not guessed at where elements come or go: what came is masked as it is', () => {
    const before = show(0);
    const after = madeOutcome([...before.elements, element('button', 2, ['class=chat'])]);
    expect(restlessIn(before, after)).toEqual([]);
    expect(differencesBetween(before, after, maskOf(before, after))).toEqual([]);
  });
});
