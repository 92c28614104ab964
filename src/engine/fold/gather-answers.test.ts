import { expect, it } from 'vitest';
import type { StoredAnswers } from '../../core/fold/record.ts';
import type { SheetQuestions } from '../../core/fold/sheet-index.ts';
import type { Visit } from '../chromium/visit.ts';
import { GatheredAnswers } from './gather-answers.ts';
import type { PageReply } from '../../in-page/ask.ts';

const questions = { matchKeys: ['.a', '.b'], everKeys: ['.a', '.b'] } as unknown as SheetQuestions;
const NOTHING_MORE = { extra: [], keepElements: [], leaveElements: [] };
const VIEWPORT = { width: 390, height: 844 };

/** A page that answers the same whatever it is asked. */
function answering(concerns: PageReply['concerns'], elements: number[][]): Visit {
  const reply: PageReply = {
    concerns,
    firstElements: concerns.map(() => null),
    elements,
    everUsed: concerns.map(Boolean),
    faces: [],
    inlineCss: '',
    elementsToFold: 3,
  };
  return { inPage: { call: () => Promise.resolve(reply) } } as unknown as Visit;
}
const sibling: StoredAnswers = {
  concerns: [['.b', 'painted']],
  neededBy: [],
  everUsed: ['.b'],
  rejected: [],
  liveMedia: [],
  faces: [],
  outsideCss: '',
};

it('tells what overrides what from the states of the page itself', async () => {
  const gathered = new GatheredAnswers();
  await gathered.ask(answering(['painted', null], [[1], []]), VIEWPORT, questions, NOTHING_MORE);
  expect(gathered.elementsOf?.get('.a')).toEqual([[1]]);
});

it('goes on serving a whole family when the page is asked once more, in a later round', async () => {
  const gathered = new GatheredAnswers();
  await gathered.ask(answering(['painted', null], [[1], []]), VIEWPORT, questions, NOTHING_MORE);
  gathered.join(sibling);
  await gathered.ask(answering(['painted', null], [[1], []]), VIEWPORT, questions, NOTHING_MORE);
  expect([...gathered.answers.concerns.keys()]).toEqual(['.a', '.b']);
  // What this page overrides everywhere may be what a sibling needs: nothing is to be taken out for it.
  expect(gathered.elementsOf).toBeNull();
});
