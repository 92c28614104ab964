import { describe, expect, it } from 'vitest';
import type { KeptRule } from './choose.ts';
import { giveUps } from './budget.ts';
import type { FoldSheet } from './fold-css.ts';

const [PHONE, LAPTOP] = ['390×844', '1440×900'];

function rule(selector: string, over: Partial<KeptRule> = {}): KeptRule {
  return {
    selector,
    context: '',
    sheetUrl: 'https://quay.test/a.css',
    line: 1,
    concern: 'painted',
    reason: 'matches',
    neededBy: [PHONE, LAPTOP].map((viewport) => ({ viewport: viewport!, element: 'p' })),
    bytes: 100,
    embedded: false,
    ...over,
  };
}

function offers(kept: KeptRule[]) {
  const sheet: FoldSheet = {
    url: 'https://quay.test/a.css',
    css: kept.map((one) => `${one.selector}{color:red}`).join(''),
    kept,
    rules: kept.length,
    sourceBytes: 1,
    foldBytes: 1,
    parts: [],
    problems: [],
    whole: false,
  };
  return giveUps([sheet], [PHONE!, LAPTOP!]);
}

describe('what to give up first', () => {
  it('is told in its order, each rule once, with the decision that gives it up', () => {
    const found = offers([
      rule('.always'),
      rule('.place', { concern: 'shaping' }),
      rule('.laptop', {
        neededBy: ['1096×900', LAPTOP!].map((viewport) => ({ viewport, element: 'a' })),
      }),
      rule('.phone', { neededBy: [{ viewport: PHONE!, element: 'a' }] }),
      rule('.picture', { embedded: true, bytes: 5_000 }),
    ]);
    expect(found.map((one) => [one.what, one.rules, one.decisions[0]?.what])).toEqual([
      ['Rules with files embedded in them', 1, '.picture'],
      ['Rules that only 1440×900 needs', 1, '.laptop'],
      ['Rules that only 390×844 needs', 1, '.phone'],
      ['Rules that only place boxes outside the fold', 1, '.place'],
    ]);
    expect(found[0]!.compressedBytes).toBeGreaterThan(found[1]!.compressedBytes);
  });

  it('is nothing that no decision leaves out: a face goes only with what names it', () => {
    const face = rule('@font-face', { reason: 'named', embedded: true, bytes: 90_000 });
    expect(offers([face])).toEqual([]);
    const [picture] = offers([face, rule('.picture', { embedded: true, bytes: 1_000 })]);
    expect([picture!.rules, picture!.decisions.length]).toEqual([1, 1]);
  });

  it('never is what paints above the fold everywhere', () => {
    expect(offers([rule('.always')])).toEqual([]);
  });
});
