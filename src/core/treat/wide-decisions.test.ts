import { describe, expect, it } from 'vitest';
import { madePage } from '../../../tests/engine/made-capture.ts';
import { readPageAssets } from '../page/page-assets.ts';
import { wideDecisionSentence } from '../words/decisions.ts';
import { applyPlan } from './apply.ts';
import { matchText } from './plan.ts';
import { recommendPlan } from './recommend.ts';
import { sceneOf } from './scene.ts';
import { isSpared, keysOf, withDecisions, type WideDecision } from './wide-decisions.ts';

const CHAT = 'https://chat.test/v2/chat.4f2a91bc.js?site=7';
const HTML = `<script src="/s/lib.90ce77d1.js"></script><script>var visit = "a1b2"; lib.sign(visit);</script><script src="${CHAT}" defer></script>`;
const FILES = {
  's/lib.90ce77d1.js': 'var lib = { sign: function () {} };',
  [CHAT]: 'window.chat = 1;',
};
const scene = sceneOf(readPageAssets(madePage(HTML, FILES), []), null);

const decision = (over: Partial<WideDecision>): WideDecision => ({
  id: 1,
  family: null,
  kind: 'script',
  knownBy: 'address',
  what: '',
  treatment: 'at-rest',
  why: '',
  spared: [],
  ...over,
});
const decided = (...decisions: WideDecision[]) => withDecisions(scene, recommendPlan(scene), decisions);
/** What is done to a script, by the end of its address. */
const doneTo = ({ plan }: ReturnType<typeof decided>, name: string) =>
  plan.rules.find((rule) => matchText(rule.match).includes(name));

describe('decisions for more pages than one', () => {
  const chat = { url: CHAT };

  it.each([
    ['address', CHAT],
    ['file', 'https://chat.test/*/chat.js'],
    ['name', 'chat.js'],
    ['defines', 'chat'],
    ['host', 'chat.test'],
    ['owner', 'chat.test'],
  ] as const)('know an asset by its %s', (knownBy, what) => {
    expect(keysOf(scene, 'script', chat, knownBy)).toContain(what);
    const found = decided(decision({ knownBy, what, why: 'The desk asks for it.' }));
    expect(doneTo(found, 'chat')).toMatchObject({
      treatment: 'at-rest',
      on: true,
      scope: 'site',
      why: 'The desk asks for it.',
    });
    expect(found.outcomes).toEqual([
      { decisionId: 1, spared: false, ruleIds: [doneTo(found, 'chat')!.id], refused: [] },
    ]);
  });

  it('know the bytes of a file, and an inline script by its shape whatever it says of the visit', () => {
    const [hash] = keysOf(scene, 'script', chat, 'content');
    expect(doneTo(decided(decision({ knownBy: 'content', what: hash! })), 'chat')!.treatment).toBe('at-rest');
    const inline = (text: string) => keysOf(scene, 'script', { inline: text }, 'text');
    expect(inline('var visit = "a1b2"; lib.sign(visit);')).toEqual(
      inline('var visit = "ffff"; lib.sign(visit);'),
    );
  });

  it('of several the one that knows the asset most closely counts, and a family’s before the site’s', () => {
    const site = decision({ id: 1, knownBy: 'host', what: 'chat.test', treatment: 'as-authored' });
    const family = decision({ id: 2, knownBy: 'host', what: 'chat.test', family: 'Reading' });
    const close = decision({ id: 3, knownBy: 'name', what: 'chat.js', treatment: 'after-paint' });
    expect(doneTo(decided(site, family), 'chat')).toMatchObject({ treatment: 'at-rest', scope: 'family' });
    expect(doneTo(decided(site, family, close), 'chat')!.treatment).toBe('after-paint');
    expect(doneTo(decided(site), 'chat')!.treatment).toBe('as-authored');
  });

  it('do nothing that the page refuses, and say why', () => {
    const out = decided(decision({ knownBy: 'name', what: 'lib.js', treatment: 'left-out' }));
    expect(doneTo(out, 'lib.')!.treatment).toBe('defer');
    expect(out.outcomes[0]!.refused[0]!.why).toContain('reads “lib”');
  });

  it('take along what has to move, as the page is treated by them', () => {
    const { plan } = decided(decision({ knownBy: 'name', what: 'lib.js', treatment: 'delay' }));
    const html = new TextDecoder().decode(applyPlan(scene, plan).html);
    expect(html).toContain('data-src="/s/lib.90ce77d1.js"');
    expect(html).toMatch(/<script type="text\/wistrel-delayed">var visit/);
  });

  it('leave alone the pages that they spare', () => {
    const spared = decided(decision({ knownBy: 'host', what: 'chat.test', spared: ['/'] }));
    expect(spared.outcomes).toMatchObject([{ spared: true, ruleIds: [] }]);
    expect(spared.plan).toEqual(recommendPlan(scene));
    const page = 'https://quay.test/checkout/pay?step=2';
    expect(isSpared(page, ['/checkout*'])).toBe(true);
    expect(isSpared(page, ['/checkout'])).toBe(false);
    expect(isSpared(page, ['/check.ut*', ''])).toBe(false);
    expect(isSpared(page, ['/*out/*y'])).toBe(true);
    expect(isSpared(page, ['/checkout/pay*pay'])).toBe(false);
    // However many stars: it takes no time to say no.
    expect(isSpared(`https://quay.test/${'a'.repeat(1_900)}`, [`/${'*a'.repeat(90)}*b`])).toBe(false);
  });

  it('are told as sentences', () => {
    const told = decision({ knownBy: 'host', what: 'chat.test', why: 'Asked for by the desk' });
    expect(wideDecisionSentence(told)).toBe(
      'all from chat.test: once the page rests, for the whole site. Asked for by the desk.',
    );
    expect(wideDecisionSentence({ ...told, family: 'Reading', treatment: 'as-authored', why: '' })).toBe(
      'all from chat.test: never treated, for the family Reading.',
    );
    const file = { ...told, knownBy: 'file', what: 'https://chat.test/*/chat.js', why: '' } as const;
    expect(wideDecisionSentence(file)).toMatch(/^the file chat\.js of chat\.test, whatever its version:/);
  });
});
