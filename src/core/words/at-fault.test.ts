import { expect, it } from 'vitest';
import type { PlanRule } from '../treat/plan.ts';
import type { AtFault } from '../trial/at-fault.ts';
import { toldFaults } from './at-fault.ts';

const RULE: PlanRule = {
  id: 'menu',
  kind: 'script',
  match: { url: 'https://quay.test/menu.js' },
  treatment: 'delay',
  on: true,
  reason: '',
  scope: 'page',
  risk: 'medium',
};
const LATE = { kind: 'late-answers', words: '“Menu” tapped is answered 900 ms later' } as const;
const ERROR = { kind: 'console', words: '1 new console error' } as const;

const tried = (fault: AtFault) => ({
  checks: { atFault: [fault], otherDevice: { breaks: [LATE, ERROR] } },
  result: { breaks: [ERROR, LATE] },
});

it('says which rule a break comes of, and whether it is gone without that', () => {
  const told = (ruleId: string | null, goneWithout: boolean) =>
    toldFaults(tried({ kind: 'late-answers', onOther: false, ruleId, goneWithout }), [RULE])[0]!;
  expect(told('menu', true).sentence).toBe(
    '“Menu” tapped is answered 900 ms later: that comes of menu.js, “delay until interaction”. Without it, that is gone.',
  );
  expect(told('menu', true).why).toBe('In a trial with it: “Menu” tapped is answered 900 ms later.');
  expect(told('menu', false).sentence).toMatch(/another rule does it too\.$/);
  expect(told(null, false)).toMatchObject({
    sentence: '“Menu” tapped is answered 900 ms later: no single rule was found that it comes of.',
    name: null,
  });
  const inline = { ...RULE, match: { inline: 'tide = document.querySelector("main"); tide.hidden = true' } };
  const ofInline = tried({ kind: 'console', onOther: false, ruleId: 'menu', goneWithout: true });
  expect(toldFaults(ofInline, [inline])[0]!.sentence).toContain(
    'that comes of inline script “tide = document.querySelector("main"); t…”, “delay',
  );
  const there = { kind: 'console', onOther: true, ruleId: 'menu', goneWithout: true } as const;
  expect(toldFaults(tried(there), [RULE])[0]!.sentence).toMatch(
    /^1 new console error on the other kind of device: that comes of menu\.js/,
  );
});
