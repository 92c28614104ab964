import { rmSync } from 'node:fs';
import { serialize } from 'node:v8';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { findConditions } from '../core/measure/conditions.ts';
import { DEFAULT_FOLD_SETTINGS } from '../core/fold/settings.ts';
import { seededData } from '../../tests/data-folders.ts';
import { seedDatabase } from '../demo/seed-database.ts';
import { readSeed } from '../demo/seed-file.ts';
import type { Metrics } from '../core/measure/metrics.ts';
import { keepRound } from '../store/rounds.ts';
import { familyCheck } from './jobs/family-check.ts';
import { ruleGains } from './jobs/rule-gains.ts';
import { trial } from './jobs/trial.ts';
import type { Work } from './jobs/kind.ts';
import { READINGS } from './readings.ts';
import type { Order } from '../engine/jobs/orders.ts';
import { openDatabase, type Database } from '../store/database.ts';
import { addFootnote, footnotesOf } from '../store/footnotes.ts';
import { addFold, acceptFold, latestFold } from '../store/proofs.ts';
import { forgetFieldFigures } from '../store/field-figures.ts';
import { familyFoldOf, chooseForFamily, foldSettingsOf, saveFoldSettings } from '../store/fold-settings.ts';
import { nameOwner } from '../store/owners.ts';
import { deletePages, ensurePage, listPages, type Page } from '../store/sites.ts';
import { foldView } from './fold-view.ts';
import { savePageDecisions } from '../store/proofs.ts';
import { handoffOthers } from './handoff-others.ts';
import { keepFold, keepMeasurement, keepTrial } from './keep.ts';
import type { Carry } from './carry.ts';
import { keepScriptFacts } from './keep-script-facts.ts';
import { measuredPage, planNow } from './stored-page.ts';
import { answersOfFamily, makeFamilyFold, makeFold } from './make-fold.ts';
import { mapView } from './map-view.ts';
import { measureView } from './measure-view.ts';
import { reportOf } from './report.ts';
import { pageView } from './page-view.ts';
import { rehearsed } from './rehearsal.ts';
import { treatView } from './treat-view.ts';

const ORIGIN = 'https://www.skerravane.localhost:9443';
const SLOW = findConditions('slow-phone')!;
const LAPTOP = findConditions('home-laptop')!;

/** The views over a database that holds the demo as a newcomer finds it. */
describe('the demo’s pages as they are stored', () => {
  let folder: string;
  const seed = readSeed();
  let database: Database;
  let home: Page;
  let news: Page[];

  beforeAll(async () => {
    folder = await seededData();
    database = await openDatabase(folder, 'the tests');
    const pages = await listPages(database);
    home = pages.find((page) => page.name === 'Home')!;
    news = pages.filter((page) => page.family === 'news');
  });
  afterAll(async () => {
    await database.close();
    rmSync(folder, { recursive: true, force: true });
  });

  const map = (page: Page, against: number | null = null, conditions = SLOW.id) =>
    mapView(database, page.id, conditions, 'first paint', against);

  it('are there once, however often the demo is started', async () => {
    await seedDatabase(database, ORIGIN, 'x'.repeat(43) + '=');
    expect((await listPages(database)).map((page) => page.name)).toHaveLength(9);
    expect(news).toHaveLength(3);
  });

  it('read a long script once: what is in it is found again by whoever has not read it', async () => {
    await keepScriptFacts(database, home.id, SLOW.id);
    /** The page as one sees it that has read nothing yet. */
    const anew = async () => {
      const fresh = { query: database.query.bind(database), seals: database.seals };
      return (await measuredPage(fresh, home.id, SLOW.id))!.assets.captured;
    };
    const [key, facts] = [...(await anew()).factsRead].find(
      ([key, { effects }]) => key.startsWith('script http') && effects.accesses.length > 50,
    )!;
    const read = async () => (await anew()).factsAt(key.replace('script ', ''));
    expect(await read()).toEqual(facts);
    // It is really taken from what is kept, and only for these very texts, read by this very program.
    const told = serialize({ ...facts, unreadable: 'as it was kept' });
    await database.query('UPDATE script_facts SET data = $1', [told]);
    expect((await read()).unreadable).toBe('as it was kept');
    await database.query("UPDATE script_facts SET text_hash = 'another' || text_hash");
    expect((await read()).unreadable).toBeNull();
    await database.query("UPDATE script_facts SET text_hash = substr(text_hash, 8), program = 'another'");
    expect((await read()).unreadable).toBeNull();
    await keepScriptFacts(database, home.id, SLOW.id);
    const [left] = await database.query<{ programs: number }>(
      'SELECT count(DISTINCT program)::int AS programs FROM script_facts',
    );
    expect(left).toEqual({ programs: 1 });
  });

  it('goes on rule by rule from the rounds that were taken before it was broken off', async () => {
    const metrics = (firstPaintMs: number) => ({ firstPaintMs }) as Metrics;
    const given: Metrics[][][] = [];
    /** Takes rounds, each of the page as is and after one step, until it breaks off. */
    const carrying =
      (paints: number[], breaksOff: boolean): Carry =>
      (order, onSoFar) => {
        given.push((order as Extract<Order, { kind: 'rule-gains' }>).before ?? []);
        for (const paint of paints)
          onSoFar?.({ kind: 'round', metrics: [metrics(paint), metrics(paint - 100)] });
        if (breaksOff) return Promise.reject(new Error('killed'));
        return Promise.resolve({ kind: 'rule-gains', gains: seed.ruleGains.gains } as never);
      };
    const work = (carry: Carry) =>
      ({
        database,
        conditions: SLOW,
        job: { pageId: home.id, input: null },
        read: (name: keyof typeof READINGS, ...rest: never[]) =>
          (READINGS[name] as (...all: unknown[]) => unknown)(database, ...rest),
        carry,
      }) as unknown as Work;
    await expect(ruleGains.run(work(carrying([900, 910], true)))).rejects.toThrow('killed');
    await expect(ruleGains.run(work(carrying([920], true)))).rejects.toThrow('killed');
    const done = await ruleGains.run(work(carrying([], false)));
    expect(given.map((rounds) => rounds.map(([asIs]) => asIs!.firstPaintMs))).toEqual([
      [],
      [900, 910],
      [900, 910, 920],
    ]);
    // Once it is finished they are gone, and so are those of something else.
    await database.transaction((queries) => done!.keep(queries));
    await expect(ruleGains.run(work(carrying([930], true)))).rejects.toThrow();
    expect(given.at(-1)).toEqual([]);
    const other = { pageId: home.id, conditionsId: SLOW.id, basis: 'another plan' };
    await database.transaction((queries) => keepRound(queries, other, [metrics(1)]));
    await ruleGains.run(work(carrying([], false)));
    expect(given.at(-1)).toEqual([]);
  });

  it('go on with a rehearsal from what it had found before it was broken off', async () => {
    const { capture, bodies, state, requests } = (await measuredPage(database, home.id, SLOW.id))!;
    const page = {
      pageId: home.id,
      pageName: 'Home',
      capture,
      bodies,
      state,
      requests,
      fold: null,
      checks: [],
    };
    const { plan } = seed;
    const found = {
      plan: { ...plan, rules: plan.rules.slice(1) },
      exceptions: seed.rehearse.rehearsal.exceptions,
    };
    const given: unknown[] = [];
    const carrying =
      (breaksOff: boolean): Carry =>
      (order, onSoFar) => {
        given.push((order as Extract<Order, { kind: 'rehearse' }>).before ?? null);
        onSoFar?.({ kind: 'rehearsal', ...found });
        if (breaksOff) return Promise.reject(new Error('killed'));
        return Promise.resolve({
          kind: 'rehearse',
          rehearsal: seed.rehearse.rehearsal,
          pictures: [],
        } as never);
      };
    await expect(rehearsed(database, page, plan, carrying(true))).rejects.toThrow('killed');
    // What was found of another plan is of no use to this one.
    const other = { ...plan, rules: plan.rules.slice(2) };
    await expect(rehearsed(database, page, other, carrying(true))).rejects.toThrow('killed');
    await expect(rehearsed(database, page, other, carrying(true))).rejects.toThrow('killed');
    await rehearsed(database, page, other, carrying(false));
    expect(given).toEqual([null, null, found, found]);
    expect(await database.query('SELECT * FROM found_so_far')).toEqual([]);
  });

  it('ask for other measured pages before a plan is rehearsed for them', async () => {
    const lone = { database, conditions: SLOW, job: { pageId: home.id, input: null } };
    const carry = vi.fn();
    await expect(familyCheck.run({ ...lone, carry, read: vi.fn() } as unknown as Work)).rejects.toThrow(
      'No other page of its family was measured under Slow phone. Measure one first. Nothing stored was changed.',
    );
    expect(carry).not.toHaveBeenCalled();
  });

  it('say that the ideal page needs fold CSS before a plan is rehearsed for it', async () => {
    const pages = await listPages(database);
    const bare = pages.find((one) => one.name === 'Booking')!;
    const carry = vi.fn();
    const work = {
      database,
      conditions: SLOW,
      job: { pageId: bare.id, input: { idealPage: 'yes' } },
      carry,
      read: vi.fn(),
    };
    await expect(trial.run(work as unknown as Work)).rejects.toThrow(
      'The ideal page is made of the page’s fold CSS, and there is none yet. Make it in Fold CSS first, or leave the ideal page out. Nothing stored was changed.',
    );
    expect(carry).not.toHaveBeenCalled();
  });

  it('show the map with its hand-overs, each from what the bill waited for before', async () => {
    const view = (await map(home))!;
    expect(view.paintBill.reduce((sum, one) => sum + one.endMs - one.startMs, 0)).toBeCloseTo(
      view.target!.atMs,
      0,
    );
    expect(view.handOvers.length).toBeGreaterThan(0);
    expect(view.handOvers.map((one) => one.number)).toEqual(view.handOvers.map((_one, index) => index + 1));
    for (const [index, one] of view.handOvers.entries()) {
      expect(one.atMs).toBeGreaterThanOrEqual(view.handOvers[index - 1]?.atMs ?? 0);
      const before = view.paintBill.findLast(
        ({ url, startMs }) => startMs < one.atMs && view.assets.some((asset) => asset.url === url),
      );
      expect(one.from.url).toBe(before!.url);
    }
    expect(view.comparable).toEqual([]);
    expect(view.differences).toBeNull();
  });

  it('are held against the measurement before, other conditions and other pages', async () => {
    const tail = seed.measure.capture.exchanges.find((one) => one.kind === 'script')!.url;
    const { measurement } = seed.measure;
    const without = {
      ...measurement,
      runs: measurement.runs.map((run) => ({
        ...run,
        requests: run.requests.filter((one) => one.url !== tail),
      })),
    };
    await keepMeasurement(database, home.id, LAPTOP, seed.measure);
    await keepMeasurement(database, news[0]!.id, SLOW, seed.measure);
    await keepMeasurement(database, home.id, SLOW, { ...seed.measure, measurement: without });
    const view = (await map(home))!;
    expect(view.comparable.map((one) => one.relation)).toEqual(['before', 'conditions', 'page']);
    expect(view.differences!.against.relation).toBe('before');
    expect(view.differences!.all).toContainEqual(expect.objectContaining({ url: tail, what: 'went' }));
    const [, conditions, page] = view.comparable;
    expect(conditions!.conditions).toBe(LAPTOP.name);
    const aside = (await map(home, page!.id))!.differences!;
    expect(aside.against.page).toBe(news[0]!.name);
    expect(aside.all.find((one) => one.url === tail)!.sentence).toContain('first paint there');
    expect(aside.paintMs).toBe(seed.measure.measurement.spreads.firstPaintMs.median);
  });

  it('say of a capture made signed in that a visitor’s is missing, and what only it holds where there is one', async () => {
    const state = { cookies: [], storage: [] };
    const page = await ensurePage(database, `${ORIGIN}/staff`, 'Staff');
    await keepMeasurement(database, page.id, SLOW, { ...seed.measure, state });
    const ids = async () => (await map(page))!.findings.map((one) => one.id);
    expect(await ids()).toContain('staff unknown');
    const { capture } = seed.measure;
    const tail = capture.exchanges.find((one) => one.kind === 'script')!.url;
    const exchanges = capture.exchanges.filter((one) => one.url !== tail);
    await keepMeasurement(database, page.id, SLOW, {
      ...seed.measure,
      capture: { ...capture, exchanges },
    });
    await keepMeasurement(database, page.id, SLOW, { ...seed.measure, state });
    const staff = (await map(page))!.findings.find((one) => one.id === 'staff')!;
    expect(staff.urls).toEqual([tail]);
    await deletePages(database, [page.id]);
  });

  it('count domains together once their owner has a name, and apart again without it', async () => {
    const parties = async () => (await map(home))!.findings.filter((one) => one.domains);
    const before = await parties();
    const domains = before.slice(0, 2).flatMap((one) => one.domains!);
    await database.transaction((queries) => nameOwner(queries, domains, 'Harbour Counting'));
    const named = (await parties()).find((one) => one.id === 'party Harbour Counting')!;
    expect([...named.domains!].sort()).toEqual([...domains].sort());
    expect(await parties()).toHaveLength(before.length - 1);
    await database.transaction((queries) => nameOwner(queries, domains, ''));
    expect(await parties()).toHaveLength(before.length);
  });

  it('stand beside their visitors’ figures until these are forgotten', async () => {
    const field = async (conditions = SLOW.id) => (await measureView(database, home.id, conditions))!.field;
    expect((await field())!.device).toBe('phone');
    expect((await field())!.sentence).toMatch(/First contentful paint/i);
    expect((await field(LAPTOP.id))!.device).toBe('desktop');
    await forgetFieldFigures(database, home.url);
    expect(await field()).toBeNull();
  });

  it('give a report that holds the bill and the footnotes and asks nothing of outside', async () => {
    await addFootnote(database, home.id, {
      urls: [],
      line: null,
      atMs: 900,
      text: 'Talk to the harbour office <first>.',
    });
    expect((await footnotesOf(database, home.id)).map((note) => note.number)).toEqual([1]);
    const html = (await reportOf(database, home.id, SLOW.id))!;
    expect(html).toContain('Talk to the harbour office &lt;first&gt;.');
    expect(html).toContain((await map(home))!.sentence);
    expect(html).not.toMatch(/<script|src="http|href="http/);
  });

  it('offer treatments by the plan, and fold CSS only when it is proved or accepted', async () => {
    const folded = async () => (await treatView(database, home.id, SLOW.id))!.foldState;
    expect(await folded()).toBe('proved');
    const fold = (await latestFold(database, home.id))!;
    const { id: _id, pictures: _pictures, accepted: _accepted, captureId, ...record } = fold;
    await addFold(
      database,
      home.id,
      captureId,
      { ...record, proved: false },
      'other',
      seed.fold.fold.answers,
      [],
    );
    expect(await folded()).toBe('not proved');
    expect(await acceptFold(database, home.id, true)).toBe(true);
    expect(await folded()).toBe('proved');
    const stage = (await pageView(database, home.id, SLOW.id))!.stages.find((one) => one.key === 'fold')!;
    expect(stage.figure).toContain('not proved, used');
  });

  it('keep the user’s decisions, and say that the set was made before they were', async () => {
    await keepFold(database, home.id, (await latestFold(database, home.id))!.captureId, seed.fold);
    expect((await foldView(database, home.id))!.settingsChanged).toBe(false);
    const decisions = [{ verb: 'leave-out', by: 'selector', what: '.notice' }] as const;
    await saveFoldSettings(database, home.id, { ...DEFAULT_FOLD_SETTINGS, decisions: [...decisions] });
    const view = (await foldView(database, home.id))!;
    expect(view.settingsChanged).toBe(true);
    expect(view.settings.decisions).toEqual(decisions);
    expect((await foldSettingsOf(database, news[0]!.id)).decisions).toEqual([]);
  });

  it('are handed off with a word on files that the plan of another page, once it is tried, makes others of', async () => {
    const told = async () => (await handoffOthers(database, home.id, SLOW.id))!.sentences;
    expect(await told()).toEqual([]);
    const other = await ensurePage(database, `${ORIGIN}/berths`, 'Berths');
    const { captureId } = await keepMeasurement(database, other.id, SLOW, seed.measure);
    await keepFold(database, other.id, captureId, seed.fold);
    expect(await told()).toEqual([]);
    const { plan } = (await planNow(database, other.id, SLOW.id))!;
    const of = { captureId, plan, ownPlan: false, decided: null, foldHash: null };
    await keepTrial(database, other.id, of, seed.trial);
    // Both plans make the same of each file.
    expect(await told()).toEqual([]);
    const rules = plan.rules.map((rule) => (rule.kind === 'font' ? { ...rule, on: false } : rule));
    const knew = plan.rules.map(({ kind, match }) => ({ kind, match }));
    await savePageDecisions(database, other.id, { rules, knew });
    const shared =
      /^Berths loads type\.css, site\.css and signs-face\.css too, and was proved with them unchanged:/;
    expect(await told()).toEqual([expect.stringMatching(shared)]);
    // Told on the other page it is the other way round.
    expect((await handoffOthers(database, other.id, SLOW.id))!.sentences).toEqual([
      expect.stringMatching(
        /^The plan of Home changes type\.css, site\.css and signs-face\.css, and this page/,
      ),
    ]);
  }, 60_000);

  describe('of a family', () => {
    /** Stands in for the process that makes fold CSS: what it was asked, and the seed's set as the answer. */
    const asked: Extract<Order, { kind: 'fold' }>[] = [];
    const carry = (async (order: Order) => {
      if (order.kind !== 'fold') throw new Error(`Not expected: ${order.kind}`);
      asked.push(order);
      const { fold } = seed.fold;
      return { fold: { ...fold, shared: (order.family ?? []).length > 0, answers: { ...fold.answers } } };
    }) as unknown as Carry;

    it('are made one by one first, then as one set, by the user’s choice', async () => {
      await keepMeasurement(database, news[1]!.id, SLOW, seed.measure);
      await chooseForFamily(database, news[0]!.siteId, 'news', 'one set');
      await database.transaction((await makeFamilyFold(database, news[0]!, () => carry)).keep);
      expect(asked.map((order) => [order.pageName, (order.family ?? []).length])).toEqual([
        [news[0]!.name, 0],
        [news[1]!.name, 0],
        [news[0]!.name, 1],
        [news[1]!.name, 1],
      ]);
      const { figures } = await familyFoldOf(database, news[0]!.siteId, 'news');
      expect(figures!.choice).toBe('one set');
      expect(figures!.pages.map((one) => one.name)).toEqual([news[0]!.name, news[1]!.name]);
    });

    it('go on serving each other when one of them is made anew', async () => {
      const answers = await answersOfFamily(database, news[0]!);
      expect(answers).toHaveLength(1);
      await database.transaction((await makeFold(database, news[0]!, carry, answers)).keep);
      expect(asked.at(-1)!.family).toHaveLength(1);
      await chooseForFamily(database, news[0]!.siteId, 'news', 'each its own');
      expect(await answersOfFamily(database, news[0]!)).toEqual([]);
      expect(await answersOfFamily(database, home)).toEqual([]);
    });

    it('keep, when unused rules are set aside, what other measured pages use, and name those not asked yet', async () => {
      const rest = (await ensurePage(database, `${ORIGIN}/crew`, 'Crew')).id;
      await keepMeasurement(database, rest, SLOW, seed.measure);
      await saveFoldSettings(database, news[0]!.id, { ...DEFAULT_FOLD_SETTINGS, rest: 'used-only' });
      await database.transaction((await makeFold(database, news[0]!, carry)).keep);
      const { elsewhere } = asked.at(-1)!;
      expect(elsewhere!.unknown).toEqual(['Crew']);
      expect(new Set(elsewhere!.used)).toEqual(new Set(seed.fold.fold.answers.everUsed));
      await saveFoldSettings(database, news[0]!.id, DEFAULT_FOLD_SETTINGS);
      await database.transaction((await makeFold(database, news[0]!, carry)).keep);
      expect(asked.at(-1)!.elsewhere).toBeUndefined();
    });

    it('cannot be made of pages in no family, or of a page that was never measured', async () => {
      await expect(makeFamilyFold(database, home, () => carry)).rejects.toThrow(/is in no family/);
      await expect(makeFold(database, news[2]!, carry)).rejects.toThrow(
        /was not measured yet. Measure it first/,
      );
    });
  });
});
