import { describe, expect, it } from 'vitest';
import type { SeenElement } from '../rehearse/outcome.ts';
import { chooseDeeds, deedKey, deedWords, earlyDeeds, type FoundDeed } from './deed.ts';
import { effectOf, whyUndecided } from './page-check.ts';
import { madeOutcome } from '../../../tests/engine/made-outcome.ts';

const found = (kind: FoundDeed['kind'], name: string, telling = 1): FoundDeed => ({
  kind,
  on: { name, index: 0 },
  label: '',
  telling,
});

describe('what is tried on a page', () => {
  const many = [
    ...[1, 2, 3, 4, 5, 6].map((telling) => found('tap', `button.b${telling}`, telling)),
    found('hover', 'li.stops'),
    found('type', 'input.name'),
    found('send', 'form.book'),
  ];

  it('is the telling of each sort, bounded', () => {
    const names = chooseDeeds(many, false).map((deed) => deedWords(deed));
    expect(names).toEqual([
      'button.b6 tapped',
      'button.b5 tapped',
      'button.b4 tapped',
      'button.b3 tapped',
      'form.book about to be sent',
      'something typed into input.name',
      'the pointer on li.stops',
    ]);
  });

  it('has no pointer where fingers are', () => {
    expect(chooseDeeds(many, true).some((deed) => deed.kind === 'hover')).toBe(false);
  });

  it('is done before scripts are there as well, by finger, by key and by typing', () => {
    const [press, second] = ['a.menu', 'a.search'].map((name) => found('press', name, 9));
    const words = earlyDeeds(chooseDeeds([...many, press!, second!], true)).map((deed) => deedWords(deed));
    expect(words).toEqual([
      ...['b6', 'b5', 'b4'].map((name) => `button.${name} tapped before scripts are there`),
      'Enter pressed on a.menu before scripts are there',
      'something typed into input.name before scripts are there',
    ]);
  });

  it('is told by what a visitor calls it, and told apart by its place', () => {
    const menu = { kind: 'press', on: { name: 'button.menu', index: 2 }, label: 'Menu' } as const;
    expect(deedWords(menu)).toBe('Enter pressed on “Menu” (button.menu)');
    expect(deedKey(menu)).not.toBe(deedKey({ ...menu, on: { ...menu.on, index: 1 } }));
  });
});

const element = (name: string, attributes = '', shown = true): SeenElement => ({
  name,
  depth: 1,
  attributes: attributes ? [attributes] : [],
  text: '',
  box: shown ? [0, 0, 10, 10] : null,
});

describe('what came of it', () => {
  it('is told in words', () => {
    const before = madeOutcome([element('button.menu'), element('ul', '', false)]);
    const after = madeOutcome([element('button.menu', 'aria-expanded=true'), element('ul')], {
      requests: ['GET https://q.test/a'],
      facts: ['has the focus on button.menu'],
    });
    expect(effectOf(before, after)).toBe(
      'button.menu changes; 1 more element is laid out; 1 more file is asked for; it has the focus on button.menu',
    );
    expect(effectOf(before, before)).toBe('nothing changes');
  });

  it('is undecided where the capture holds no answer, or too much moves by itself', () => {
    const page = madeOutcome(Array.from({ length: 10 }, (_one, index) => element(`p.p${index}`)));
    expect(whyUndecided(page, new Set(), [])).toBeNull();
    expect(whyUndecided(page, new Set(['p.p0||']), [])).toBeNull();
    expect(whyUndecided(page, new Set(['p.p0||', 'p.p1||']), [])).toBe(
      '20 % of its elements are not the same twice as authored',
    );
    expect(whyUndecided(page, new Set(), ['https://q.test/more'])).toContain('holds no answer');
  });
});
