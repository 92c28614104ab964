import { expect, it } from 'vitest';
import { familySentence, holdsOn, type FamilyPage } from './family-check.ts';

const page = (name: string, over: Partial<FamilyPage> = {}): FamilyPage => ({
  pageId: 1,
  captureId: 1,
  name,
  rules: 4,
  refused: [],
  withoutFold: 0,
  faults: [],
  gaveUp: false,
  held: 9,
  ...over,
});
const FAULT = { what: 'https://quay.test/own.js', evidence: 'As treated, the page lacks nav.' };
const REFUSED = { what: 'https://quay.test/lib.js', why: 'it writes into the page at its place' };

it('says in a sentence whether a plan may be put into the template, and which pages speak against it', () => {
  expect(familySentence([page('Berths')], 'news')).toBe('The plan holds on the other page of news too.');
  expect(familySentence([page('Berths'), page('Tides')], 'news')).toBe(
    'The plan holds on all 2 other pages of news too.',
  );
  expect(
    familySentence(
      [
        page('Berths'),
        page('Tides', { faults: [FAULT] }),
        page('Fares', { refused: [REFUSED] }),
        page('Crew', { held: 0 }),
      ],
      'news',
    ),
  ).toBe(
    'The plan holds on 1 of 4 other pages of news, but it breaks Tides; some of it may not be put into Fares; it could not be tried on Crew.',
  );
  expect(familySentence([page('Tides', { gaveUp: true }), page('Fares', { faults: [FAULT] })], 'news')).toBe(
    'The plan is not for the whole family: it breaks Tides and Fares.',
  );
});

it('says where stylesheets were not tried, for want of fold CSS', () => {
  const bare = page('Tides', { withoutFold: 4 });
  expect(familySentence([page('Berths'), bare], 'news')).toBe(
    'The plan holds on 1 of 2 other pages of news, but the stylesheets of Tides were not tried, for want of fold CSS there.',
  );
  expect(familySentence([bare], 'news')).toBe(
    'Not all was tried: the stylesheets of Tides were not tried, for want of fold CSS there.',
  );
  expect(holdsOn(bare)).toBe(false);
});

it('says of a page that has nothing of what the plan is about just that', () => {
  expect(familySentence([page('Berths'), page('Crew', { rules: 0, held: 0 })], 'news')).toBe(
    'The plan holds on 1 of 2 other pages of news, but nothing that it is about is on Crew.',
  );
});

it('takes a page for one that it holds on only where something was rehearsed and nothing refused', () => {
  expect([page('a'), page('b', { held: 0 }), page('c', { refused: [REFUSED] })].map(holdsOn)).toEqual([
    true,
    false,
    false,
  ]);
});
