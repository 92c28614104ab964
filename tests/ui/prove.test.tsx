// @vitest-environment jsdom
import { cleanup, screen, waitFor, within } from '@testing-library/react';
import { expect, it, vi } from 'vitest';
import { findConditions } from '@/core/measure/conditions';
import { aheadRules, askingAhead } from '@/core/next/ahead';
import { judgeNavigation, type NavigationResult } from '@/core/next/navigation';
import { activeRules, matchName, matchText, type Plan } from '@/core/treat/plan';
import { addCapture } from '@/store/captures';
import { listJobs } from '@/store/jobs';
import { dropPageDecisions } from '@/store/proofs';
import { keepDecisions } from '@/usecases/page-decisions';
import { keepNavigation } from '@/store/navigations';
import { IDEAL } from '@/core/trial/arms';
import { moreArmsOf } from '@/core/trial/more-arms';
import type { TrialRecord } from '@/store/proofs';
import { keepFamilyCheck } from '@/store/family-checks';
import { keepRuleGains } from '@/store/rule-gains';
import { listPages } from '@/store/sites';
import { foldMark } from '@/usecases/fold-hash';
import { measuredPage, planFor } from '@/usecases/stored-page';
import { open, rowsOf, withDemo } from './application';

vi.mock('next/navigation', () => import('./navigation'));
const { database } = withDemo();
const PROVE = '/pages/1/prove?conditions=slow-phone';
const ruleByRule = () => within(screen.getByRole('region', { name: 'Rule by rule' }));

it('measures rule by rule where that was not done, and says how long it takes', async () => {
  await (await database()).query('DELETE FROM rule_gains');
  const user = await open(PROVE);
  await screen.findByText(
    /It takes one to two minutes a step; broken off, it goes on from the rounds that were taken\.$/,
  );
  await user.click(ruleByRule().getByRole('button', { name: 'Measure rule by rule' }));
  expect(await ruleByRule().findByRole('button', { name: 'Waiting…' })).toBeTruthy();
  const db = await database();
  expect(await listJobs(db)).toMatchObject([{ kind: 'rule-gains', pageId: 1, state: 'waiting' }]);
  await db.query('DELETE FROM job');
});

it('shows what each step gained, what was excepted with its evidence, and that it is out of date', async () => {
  const db = await database();
  const page = (await measuredPage(db, 1, 'slow-phone'))!;
  const { plan, fold } = await planFor(db, 1, page);
  const [first, ...others] = activeRules(plan);
  const gained = (differenceMs: number, verdict: 'earlier' | 'no clear difference') => ({
    pairs: 6,
    differenceMs,
    low: differenceMs - 20,
    high: differenceMs + 20,
    verdict,
  });
  const of = {
    captureId: page.captureId,
    plan,
    foldHash: foldMark(fold),
    conditions: findConditions('slow-phone')!,
  };
  const gains = {
    headline: 'firstPaintMs' as const,
    asIsMs: 2_740,
    steps: [
      {
        ruleIds: [first!.id],
        paintMs: 1_640,
        gained: gained(-1_100, 'earlier'),
        worse: ['DOM ready comes 86 ms later'],
      },
      {
        ruleIds: others.map((one) => one.id),
        paintMs: 1_630,
        gained: gained(-9, 'no clear difference'),
        worse: [],
      },
    ],
    takenAt: '2026-11-28T09:00:00.000Z',
    seed: 7,
    yardstick: page.measurement.yardstick,
    quality: { rejected: [], tooBusy: false },
  };
  await db.transaction((queries) => keepRuleGains(queries, 1, of, gains));
  await open(PROVE);
  expect(
    await screen.findByText(
      /^First paint goes from 2,740 ms to 1,630 ms: 1 of 2 steps surely brings it earlier\.$/,
    ),
  ).toBeTruthy();
  const rows = rowsOf(ruleByRule().getByRole('table'));
  expect(rows[1]).toMatch(/^0 \| as is \| 2,740 ms/);
  expect(rows[2]).toMatch(
    /\| 1,640 ms \| \+1,100 \| \+1,080 to \+1,120 \| earlierbut DOM ready comes 86 ms later$/,
  );
  expect(rows[3]).toMatch(/rules more.*Film of the crossing .*\| no clear difference$/);
  expect(rows.at(-1)).toMatch(
    /chat\.js delay until interaction.*As treated, the page.*\| excepted: after first paint$/,
  );

  // A plan of one's own that was not rehearsed is not to be taken for one that holds.
  const recommended = await planFor(db, 1, page);
  await keepDecisions(db, 1, { ...plan, rules: plan.rules.slice(0, 3) }, recommended);
  cleanup();
  await open(PROVE);
  expect(await ruleByRule().findByText(/^Not rehearsed: legal by reading alone/)).toBeTruthy();
  await dropPageDecisions(db, 1);
  cleanup();

  const without = { ...of, plan: { ...plan, rules: [] } };
  await db.transaction((queries) => keepRuleGains(queries, 1, without, gains));
  await open(PROVE);
  expect(
    await screen.findByText(/^These gains are out of date: the plan was changed\. Measure it again\.$/),
  ).toBeTruthy();
});

it('tells what the plan came to on the other pages of the family, and what that is worth now', async () => {
  const db = await database();
  const pages = await listPages(db);
  const home = pages.find((one) => one.id === 1)!;
  const family = () => within(screen.getByRole('region', { name: 'Other pages of the family' }));
  const change = async (id: number, family: string) =>
    db.query('UPDATE page SET family = $2 WHERE id = $1', [id, family]);
  await change(1, '');
  await open(PROVE);
  expect(await screen.findByText(/^This page is of no family\. Give it one on the board/)).toBeTruthy();

  const [other] = pages.filter((one) => one.id !== 1);
  await change(1, 'fronts');
  await change(other!.id, 'fronts');
  cleanup();
  await open(PROVE);
  expect(
    await screen.findByText(
      `No other page of fronts is measured: measure ${other!.name} to try the plan there.`,
    ),
  ).toBeTruthy();

  const { plan } = await planFor(db, 1, (await measuredPage(db, 1, 'slow-phone'))!);
  const takenAt = '2026-11-30T09:00:00.000Z';
  const told = {
    pageId: other!.id,
    captureId: 7,
    name: other!.name,
    rules: 6,
    refused: [{ what: 'https://quay.test/a/lib.js', why: 'an inline script needs it at its place' }],
    withoutFold: 0,
    faults: [{ what: 'https://quay.test/a/own.js', evidence: 'As treated, the page lacks nav.' }],
    gaveUp: false,
    held: 9,
  };
  await keepFamilyCheck(db, 1, 'slow-phone', { takenAt, pages: [told], plan });
  cleanup();
  await open(PROVE);
  expect(
    await screen.findByText(`The plan is not for the whole family: it breaks ${other!.name}.`),
  ).toBeTruthy();
  expect(rowsOf(family().getByRole('table'))[1]).toMatch(
    / \| 6 \| 9 \| breaks: own\.js\. As treated, the page lacks nav\.refused: lib\.js, an inline script needs it at its place$/,
  );
  expect(family().queryByText(/^This is out of date/)).toBeNull();
  await keepFamilyCheck(db, 1, 'slow-phone', { takenAt, pages: [told], plan: { ...plan, rules: [] } });
  cleanup();
  await open(PROVE);
  expect(await screen.findByText('This is out of date: the plan was changed. Try it again.')).toBeTruthy();
  await change(1, home.family);
  await change(other!.id, other!.family);
});

it('says what is left of the paint, and a reason of several lines once', async () => {
  await open('/pages/1/prove?conditions=slow-phone');
  const left = within(await screen.findByRole('region', { name: 'What is left' }));
  expect(
    left.getAllByText(
      /^already: asked for early\. The snippet at line \d+ hides the page until this script has run\./,
    ),
  ).toHaveLength(1);
  expect(left.getAllByText(/^the same as of “.*heads\.js”$/).length).toBeGreaterThan(0);
});

it('tries what is asked for ahead of the pages that it links to, and says what came of it', async () => {
  const db = await database();
  const page = (await measuredPage(db, 1, 'slow-phone'))!;
  const nextPages = async () => within(await screen.findByRole('region', { name: 'Next pages' }));
  await open(PROVE);
  expect(
    await screen.findByText(
      /^This page links to Timetable, Booking.*, not measured yet\. Measure one of them/,
    ),
  ).toBeTruthy();
  cleanup();

  // What was captured of the home page stands for another page, with a file of its own.
  const timetable = (await listPages(db)).find((one) => one.name === 'Timetable')!;
  const url = timetable.url;
  const html = new TextEncoder().encode('<link rel="stylesheet" href="/times.css"><p>Times</p>');
  const css = new TextEncoder().encode('.times { color: teal }');
  const [first] = page.capture.exchanges.filter((one) => one.kind === 'document');
  const exchange = (
    kind: 'document' | 'stylesheet',
    address: string,
    bodyHash: string,
    wireBytes: number,
  ) => ({
    ...first!,
    kind,
    url: address,
    bodyHash,
    wireBytes,
    responseHeaders: [['cache-control', 'max-age=900']] as [string, string][],
  });
  const capture = {
    ...page.capture,
    url,
    documentUrl: url,
    exchanges: [
      exchange('document', url, 'd'.repeat(64), 700),
      exchange('stylesheet', new URL('/times.css', url).href, 'c'.repeat(64), 300),
    ],
  };
  const bodies = new Map([
    ['d'.repeat(64), html],
    ['c'.repeat(64), css],
  ]);
  const toCaptureId = await db.transaction((queries) =>
    addCapture(queries, timetable.id, capture, bodies, null),
  );
  const user = await open(PROVE);
  const row = async () => (await (await nextPages()).findByText('Timetable')).closest('tr')!;
  expect((await row()).textContent).toContain('2 files, 1.0 KB');
  await user.click(await (await nextPages()).findByRole('button', { name: 'Try going to Timetable' }));
  expect(await (await nextPages()).findByRole('button', { name: 'Waiting…' })).toBeTruthy();
  expect(await listJobs(db)).toMatchObject([
    { kind: 'navigation', pageId: 1, state: 'waiting', input: { toPageId: timetable.id } },
  ]);
  await db.query('DELETE FROM job');
  cleanup();

  const { plan, fold } = await planFor(db, 1, page);
  const ahead = askingAhead(plan);
  expect(aheadRules(ahead).map((rule) => matchText(rule.match))).toEqual([
    url,
    new URL('/times.css', url).href,
  ]);
  const way = (paintMs: number) => ({ paintMs, largestMs: paintMs, ownPaintMs: 900, ownLargestMs: 900 });
  const pairs = Array.from({ length: 8 }, (_, one) => ({
    without: way(1_900 + one),
    ahead: way(610 + 2 * one),
    both: null as ReturnType<typeof way> | null,
  }));
  const keepTried = (result: NavigationResult, toPlan: Plan | null) =>
    db.transaction((queries) =>
      keepNavigation(
        queries,
        1,
        {
          captureId: page.captureId,
          toPageId: timetable.id,
          toCaptureId,
          plan: ahead,
          foldHash: foldMark(fold),
          conditions: findConditions('slow-phone')!,
          toPlan,
          toFoldHash: null,
        },
        {
          ...result,
          takenAt: '2026-11-29T10:00:00Z',
          seed: 1,
          yardstick: page.measurement.yardstick!,
          quality: { rejected: [], tooBusy: false },
        },
      ),
    );
  await keepTried(judgeNavigation(pairs), null);
  await open(PROVE);
  expect(
    await screen.findByText(
      'Timetable shows its first content 617 ms after its link is pressed, 1,904 ms when nothing is asked for ahead. Home itself shows its first content not surely later.',
    ),
  ).toBeTruthy();
  expect((await row()).textContent).toMatch(/\+1,287\+1,284 to \+1,289/);
  cleanup();

  // With its own plan it is told of besides, and said so once that is not what was tried.
  const both = pairs.map((one, at) => ({ ...one, both: way(400 + at) }));
  const empty: Plan = { wistrelPlan: 1, page: url, rules: [] };
  await keepTried(judgeNavigation(both, { state: 'tried' }), empty);
  await open(PROVE);
  expect(
    await screen.findByText(
      /With the plan of Timetable as well: 404 ms\..* Out of date: the plan of Timetable is not rehearsed any more\.$/,
    ),
  ).toBeTruthy();
  expect((await row()).textContent).toMatch(/404 msand its own plan.*\+1,500/);
  cleanup();

  // Once the page is captured anew, that is said.
  await db.transaction((queries) => addCapture(queries, timetable.id, capture, bodies, null));
  await open(PROVE);
  expect(await screen.findByText(/Out of date: Timetable was captured again\.$/)).toBeTruthy();
  cleanup();

  // What no cache may keep is not asked for ahead, and nothing can be tried.
  const kept = capture.exchanges.map((one) => ({
    ...one,
    responseHeaders: [['cache-control', 'no-store']] as [string, string][],
  }));
  await db.transaction((queries) =>
    addCapture(queries, timetable.id, { ...capture, exchanges: kept }, bodies, null),
  );
  await open(PROVE);
  expect((await row()).textContent).toContain('none may be asked for ahead: Treat says why');
  const button = await (await nextPages()).findByRole('button', { name: 'Try going to Timetable' });
  expect((button as HTMLButtonElement).disabled).toBe(true);
  await db.query('DELETE FROM capture WHERE page_id = $1', [timetable.id]);
});

it('tells what taps came to and how further arms stand to each other, and loads more than two arms', async () => {
  const db = await database();
  const [row] = await db.query<{ id: number; data: TrialRecord }>(
    'SELECT id, data FROM trial WHERE page_id = 1 ORDER BY id DESC LIMIT 1',
  );
  const { arms } = row!.data;
  const ideal = moreArmsOf(
    arms,
    [{ id: IDEAL, metrics: arms[0]!.metrics.map((one) => ({ ...one, ...AT_780 })), leftOut: [] }],
    12,
  );
  const answers = (answeredMs: number, delayMs: number, script: string | null = null) =>
    [1, 2, 3].map(() => ({ answeredMs, delayMs, script }));
  const taps = [
    { words: '“Menu” (button.menu) tapped', asIs: answers(24, 16), treated: answers(31, 16) },
    {
      words: '“From” (select) tapped',
      asIs: answers(20, 16),
      treated: answers(640, 208, 'https://quay.test/lib.js'),
    },
  ];
  const firstPicture = { asIs: 0.26, treated: 0.12, difference: -0.14, clear: true };
  const data = { ...row!.data, checks: { ...row!.data.checks, taps, firstPicture }, moreArms: ideal };
  await db.query('UPDATE trial SET data = $2 WHERE id = $1', [row!.id, data]);
  const user = await open(PROVE);
  const checks = rowsOf(await screen.findByRole('table', { name: 'Did anything break?' }));
  expect(checks).toContain(
    'Shown first, and drawn otherwise in the end: the frames | 12 % of the screen, as is 26 %',
  );
  expect(checks).toContain('Taps at rest answered later: which | 1 of 2');
  expect(rowsOf(screen.getByRole('table', { name: 'Tapped at rest' }))).toEqual([
    'Tapped at rest, ms until | As is | Treated',
    '“Menu” (button.menu) tapped',
    'the next frame | ≤ 16 | ≤ 16',
    'its answer | 24 | 31',
    '“From” (select) tapped',
    'the next frame worseheld up by https://quay.test/lib.js | ≤ 16 | 208',
    'its answer breaks | 20 | 640',
  ]);
  const all = rowsOf(screen.getByRole('table', { name: 'All arms compared' }));
  expect(all[3]).toMatch(/^C the ideal page \| 780 \| −[\d,]+earlier \| −[\d,]+earlier$/);

  await user.click(screen.getByText('Load more than two arms'));
  const plan = { wistrelPlan: 1, page: 'https://quay.test/', rules: [] };
  const file = new File([JSON.stringify(plan)], 'other.json', { type: 'application/json' });
  await user.upload(screen.getByLabelText(/^The page with another plan/), file);
  await user.click(screen.getByRole('button', { name: 'Run the trial with these' }));
  await waitFor(async () =>
    expect(await listJobs(db)).toMatchObject([{ kind: 'trial', input: { idealPage: 'yes' } }]),
  );
  await db.query('DELETE FROM job');
});

const AT_780 = { firstPaintMs: 780, firstContentfulPaintMs: 780 };

it('names the rule that breaks the page, and excepts it on a key', async () => {
  const db = await database();
  const [row] = await db.query<{ id: number; data: TrialRecord }>(
    'SELECT id, data FROM trial WHERE page_id = 1 ORDER BY id DESC LIMIT 1',
  );
  const page = (await measuredPage(db, 1, 'slow-phone'))!;
  const { plan } = await planFor(db, 1, page);
  const rule = activeRules(plan).find(({ treatment }) => treatment === 'delay')!;
  const words = '“Menu” tapped is answered 900 ms later';
  const data = {
    ...row!.data,
    result: { ...row!.data.result, breaks: [{ kind: 'late-answers', words }] },
    checks: {
      ...row!.data.checks,
      atFault: [{ kind: 'late-answers', onOther: false, ruleId: rule.id, goneWithout: true }],
    },
  };
  await db.query('UPDATE trial SET data = $2 WHERE id = $1', [row!.id, data]);
  const user = await open(PROVE);
  const name = matchName(rule.match);
  const region = await screen.findByRole('region', { name: 'Which rule breaks it' });
  expect(region.textContent).toContain(`${words}: that comes of ${name}`);
  expect(region.textContent).toContain('“delay until interaction”. Without it, that is gone.');
  expect(within(region).getByRole('button', { name: new RegExp(`^Except ${name}`) })).toBeTruthy();
  await user.keyboard('x');
  expect((await within(region).findByRole('status')).textContent).toMatch(
    /^Excepted: .+ is “.+” now instead of “delay until interaction”\./,
  );
  const now = await planFor(db, 1, page);
  expect(now.own).toBe(true);
  const weaker = now.plan.rules.find(({ id }) => id === rule.id)!;
  expect(weaker.treatment).not.toBe('delay');
  expect(weaker.why).toBe(`In a trial with it: ${words}.`);
  expect(within(region).queryByRole('button', { name: /^Except/ })).toBeNull();
  expect(within(region).getByRole('button', { name: 'Run the trial with that' })).toBeTruthy();
  await dropPageDecisions(db, 1);
  await db.query('UPDATE trial SET data = $2 WHERE id = $1', [row!.id, row!.data]);
});

it('times return visits on a screen of their own, and keeps them apart from what the plan is proved by', async () => {
  const db = await database();
  const user = await open(PROVE);
  await user.click(await screen.findByRole('link', { name: 'Return visits' }));
  cleanup();
  const again = await open(`${PROVE}&visit=return`);
  expect(await screen.findByRole('heading', { name: 'No trial has timed return visits yet.' })).toBeTruthy();
  await again.click(screen.getByRole('button', { name: 'Run the trial of return visits' }));
  expect(await screen.findByRole('button', { name: 'Waiting…' })).toBeTruthy();
  expect((await listJobs(db))[0]).toMatchObject({ kind: 'trial', input: { visit: 'return' } });
  await db.query('DELETE FROM job');
  cleanup();

  const sentence = 'On a return visit, Home treated paints 40 ms later, over 8 pairs, and nothing broke.';
  await db.query(
    `INSERT INTO trial (page_id, capture_id, conditions_id, taken_at, plan, own_plan, decided, fold_hash, conditions, data, visit)
     SELECT page_id, capture_id, conditions_id, taken_at, plan, own_plan, decided, fold_hash, conditions,
       jsonb_set(data, '{result,sentence}', to_jsonb($1::text)), 'return'
     FROM trial WHERE page_id = 1 ORDER BY id DESC LIMIT 1`,
    [sentence],
  );
  await open(`${PROVE}&visit=return`);
  expect((await screen.findByRole('heading', { level: 1 })).textContent).toBe(sentence);
  expect(screen.getByRole('link', { name: 'Return visits' }).getAttribute('aria-current')).toBe('page');
  expect(screen.queryByRole('region', { name: 'Rule by rule' })).toBeNull();
  cleanup();
  await open(PROVE);
  expect((await screen.findByRole('heading', { level: 1 })).textContent).toMatch(/^Treated, Home/);
  await db.query(`DELETE FROM trial WHERE visit = 'return'`);
});
