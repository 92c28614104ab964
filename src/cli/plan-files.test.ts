import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, it } from 'vitest';
import { madePage } from '../../tests/engine/made-capture.ts';
import { readPageAssets } from '../core/page/page-assets.ts';
import { recommendPlan } from '../core/treat/recommend.ts';
import { sceneOf } from '../core/treat/scene.ts';
import { decidedPlan, readDecisions, readOwnChecksFile, readPlan } from './plan-files.ts';

const folder = mkdtempSync(join(tmpdir(), 'wistrel-plans-'));
const file = (content: unknown) => {
  const path = join(folder, `${Math.random()}.json`);
  writeFileSync(path, typeof content === 'string' ? content : JSON.stringify(content));
  return path;
};
const scene = sceneOf(
  readPageAssets(
    madePage('<script src="lib.js"></script><script>use(lib)</script><script src="own.js"></script>', {
      'lib.js': 'var lib = 1;',
      'own.js': 'var own = 1;',
    }),
    [],
  ),
  null,
);
const recommended = recommendPlan(scene);
const decision = (what: string, treatment: string, more = {}) => ({
  kind: 'script',
  knownBy: 'name',
  what,
  treatment,
  ...more,
});

it('reads decisions, and says of each what came of it on the page', () => {
  const decisions = [
    decision('own.js', 'as-authored'),
    decision('lib.js', 'left-out'),
    decision('gone.js', 'async'),
    decision('own.js', 'async', { knownBy: 'host', what: 'quay.test', spared: ['/'] }),
  ];
  const decided = readDecisions(file({ wistrelDecisions: 1, decisions }));
  const { plan, said } = decidedPlan(scene, recommended, decided);
  expect(plan.rules.find((rule) => JSON.stringify(rule.match).includes('own.js'))!.treatment).toBe(
    'as-authored',
  );
  expect(said.map((line) => line.split(':')[0])).toEqual([
    'Decided',
    'Refused for https',
    'Nothing like it here',
    'Left alone here',
  ]);
});

it('takes a plan of before for its decisions', () => {
  const own = { ...recommended, rules: recommended.rules.map((rule) => ({ ...rule, on: false })) };
  const { plan, said } = decidedPlan(scene, recommended, readDecisions(file(own)));
  expect([plan.rules.every((rule) => !rule.on), said]).toEqual([true, []]);
  expect(decidedPlan(scene, recommended, null).plan).toBe(recommended);
});

it.each([
  ['no JSON', '{', /^The file of decisions .* could not be read: /],
  ['neither a plan nor decisions', {}, / is not a plan: /],
  [
    'another version',
    { wistrelDecisions: 2, decisions: [] },
    /not a file of decisions: .*version that is known here/,
  ],
  [
    'a treatment that is none',
    { wistrelDecisions: 1, decisions: [decision('a.js', 'faster')] },
    /There is no treatment “faster” for a script\.$/,
  ],
])('says what is wrong with %s', (_what, content, sentence) => {
  expect(() => readDecisions(file(content))).toThrow(sentence);
  expect(() => readPlan(file(content))).toThrow();
});

it('reads checks of one’s own, and names the file and the line that is none', () => {
  const { text, checks } = readOwnChecksFile(file('press Menu, see Booking\n'));
  expect([text, checks.map((one) => one.steps.length)]).toEqual(['press Menu, see Booking\n', [2]]);
  expect(() => readOwnChecksFile(file('open Menu'))).toThrow(/\.json: “open Menu” in “open Menu” is no step/);
  expect(() => readOwnChecksFile(join(folder, 'gone'))).toThrow(
    /file of checks .* could not be read: ENOENT/,
  );
});
