import { ReadableStream } from 'node:stream/web';
import { rmSync } from 'node:fs';
import { unzipSync } from 'fflate';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { DEMO_ORIGIN as ORIGIN, seededData } from '../../../tests/data-folders';
import type { Conditions } from '@/core/measure/conditions';
import { findConditions } from '@/core/measure/conditions';
import { activeRules } from '@/core/treat/plan';
import type { Page } from '@/store/sites';
import { addJob, endJob, findJob } from '@/store/jobs';
import { deleteUpload } from '@/store/uploads';
import { keepUpload } from '@/usecases/uploads';
import { ownChecksOf } from '@/store/own-checks';
import { listPages } from '@/store/sites';
import { applicationDatabase, applicationRead } from '@/usecases/application';
import * as board from './board/route';
import * as conditions from './conditions/route';
import * as oneCondition from './conditions/[id]/route';
import * as oneDecision from './decisions/[id]/route';
import * as figures from './field-figures/route';
import * as footnote from './footnotes/[id]/route';
import * as jobs from './jobs/route';
import * as jobStream from './jobs/stream/route';
import * as job from './jobs/[id]/route';
import * as manyJobs from './jobs/many/route';
import * as owners from './owners/route';
import * as pages from './pages/route';
import * as manyPages from './pages/many/route';
import * as page from './pages/[id]/route';
import * as assetPicture from './pages/[id]/asset/picture/route';
import * as csv from './pages/[id]/assets.csv/route';
import * as decisions from './pages/[id]/decisions/route';
import * as download from './pages/[id]/download/route';
import * as exceptions from './pages/[id]/exceptions/route';
import * as foldSettings from './pages/[id]/fold-settings/route';
import * as footnotes from './pages/[id]/footnotes/route';
import * as map from './pages/[id]/map/route';
import * as ownChecks from './pages/[id]/own-checks/route';
import * as plan from './pages/[id]/plan/route';
import * as trialRoute from './pages/[id]/trial/route';
import * as settings from './pages/[id]/settings/route';

const HOME = 1;

type Handler = (request: Request, context: { params: Promise<{ id: string }> }) => Promise<Response>;

/** Calls a route as the browser would. */
function ask(
  handler: Handler | (() => Promise<Response>),
  { body, id = HOME, query = '' }: { body?: unknown; id?: number | string; query?: string } = {},
): Promise<Response> {
  const request = new Request(`http://127.0.0.1/api${query}`, {
    ...(body === undefined
      ? {}
      : { method: 'POST', body: typeof body === 'string' ? body : JSON.stringify(body) }),
  });
  return (handler as Handler)(request, { params: Promise.resolve({ id: String(id) }) });
}

/** The sentence of a refusal, with its status. */
async function refusal(answer: Promise<Response>): Promise<string> {
  const response = await answer;
  const { error } = (await response.json()) as { error?: string };
  return `${response.status} ${error ?? 'accepted'}`;
}

const pageNames = async () => (await listPages(await applicationDatabase())).map((one: Page) => one.name);

beforeAll(async () => {
  process.env['WISTREL_DATA'] = await seededData();
});
afterAll(async () => {
  await (await applicationDatabase()).close();
  rmSync(process.env['WISTREL_DATA']!, { recursive: true, force: true });
});

describe('what is wrong with a request is said in a sentence, and nothing stored is lost', () => {
  it.each<[string, Handler | (() => Promise<Response>), Parameters<typeof ask>[1], RegExp]>([
    [
      'a decision of a treatment that is none',
      decisions.POST,
      { body: { scope: 'site', kind: 'script', knownBy: 'host', what: 'a.test', treatment: 'faster' } },
      /^400 There is no treatment “faster” for a script\./,
    ],
    [
      'a decision that knows its assets by nothing known',
      decisions.POST,
      { body: { scope: 'site', kind: 'script', knownBy: 'colour', what: 'teal', treatment: 'defer' } },
      /^400 A decision knows its assets by address, content, /,
    ],
    ['a decision that was taken back', oneDecision.DELETE, { id: 99 }, /^404 There is no such decision\./],
    [
      'pages to leave alone that are no paths',
      oneDecision.PATCH,
      { id: 99, body: { spared: ['checkout'] } },
      /^400 A page that is left alone is told by its path/,
    ],
    [
      'checks of which a line is none',
      ownChecks.PUT,
      { body: { page: 'see Booking\nopen Menu' } },
      /^400 “open Menu” in “open Menu” is no step\. Write “press WORDS”/,
    ],
    ['checks of no page', ownChecks.PUT, { id: 99, body: { page: '' } }, /^404 There is no such page\./],
    ['no JSON', pages.POST, { body: 'url=x' }, /^400 The request is not JSON\./],
    ['no address', pages.POST, { body: {} }, /^400 “url” is missing\. Nothing stored was changed\./],
    [
      'half an address',
      pages.POST,
      { body: { url: 'quay.test' } },
      /^400 “quay\.test” is not a full address\. Write it like/,
    ],
    [
      'another scheme',
      pages.POST,
      { body: { url: 'file:///etc/hosts' } },
      /^400 “file:\/\/\/etc\/hosts” cannot be measured: only http and https/,
    ],
    [
      'a bad one among many',
      manyPages.POST,
      { body: { pages: [{ url: 'http://a.test/' }, { url: 'b' }] } },
      /^400 “b” is not a full address/,
    ],
    [
      'no page of that number',
      page.GET,
      { id: 9_999 },
      /^404 There is no such page\. It may have been deleted\./,
    ],
    ['no number', page.GET, { id: 'home' }, /^404 There is nothing of that number/],
    ['an empty name', page.PATCH, { body: { name: '  ' } }, /^400 Give a name\./],
    ['unknown conditions', map.GET, { query: '?conditions=moon' }, /^400 There are no conditions “moon”/],
    ['an unknown paint', map.GET, { query: '?paint=oil' }, /^400 There is no paint “oil”/],
    ['an odd measurement', map.GET, { query: '?against=-1' }, /^400 There is no measurement of that number/],
    [
      'an unknown job',
      jobs.POST,
      { body: { kind: 'dance', pageId: HOME, conditionsId: 'slow-phone' } },
      /^400 There is no such job/,
    ],
    [
      'a job of no page',
      jobs.POST,
      { body: { kind: 'fold', pageId: 77, conditionsId: 'slow-phone' } },
      /^404 There is no such page/,
    ],
    [
      'jobs of no pages',
      manyJobs.POST,
      { body: { kind: 'fold', pageIds: [], conditionsId: 'slow-phone' } },
      /^400 Name at least one page/,
    ],
    [
      'jobs of a page that is not there any more',
      manyJobs.POST,
      { body: { kind: 'fold', pageIds: [1, 4_711], conditionsId: 'slow-phone' } },
      /^404 One of these pages is not there any more\. Nothing was queued/,
    ],
    ['no such job', job.GET, { id: 4_711 }, /^404 There is no such job/],
    [
      'a plan of another version',
      plan.PUT,
      { body: { wistrelPlan: 2, page: ORIGIN, rules: [] } },
      /^400 This is not a plan file of a version/,
    ],
    [
      'a plan without rules',
      plan.PUT,
      { body: { wistrelPlan: 1, page: ORIGIN } },
      /^400 “rules” is missing\./,
    ],
    [
      'a footnote without words',
      footnotes.POST,
      { body: { urls: [], atMs: null, text: ' ' } },
      /^400 Write the footnote/,
    ],
    [
      'a footnote on three rows',
      footnotes.POST,
      { body: { urls: ['a', 'b', 'c'], atMs: null, text: 'x' } },
      /^400 A footnote cites two rows at most/,
    ],
    [
      'fold CSS for no viewport',
      foldSettings.PUT,
      { body: { viewports: [], decisions: [], budgetBytes: 14_336, rest: 'whole' } },
      /^400 Name at least one viewport/,
    ],
    [
      'a fold below the viewport',
      foldSettings.PUT,
      {
        body: {
          viewports: [{ width: 390, height: 844, foldHeight: 900 }],
          decisions: [],
          budgetBytes: 14_336,
          rest: 'whole',
        },
      },
      /^400 The fold cannot lie below/,
    ],
    [
      'a decision by no selector',
      foldSettings.PUT,
      {
        body: {
          viewports: [{ width: 390, height: 844 }],
          decisions: [{ verb: 'keep', by: 'selector', what: 'a:::b' }],
          budgetBytes: 14_336,
          rest: 'whole',
        },
      },
      /^400 That is not a selector/,
    ],
    [
      'no runs at all',
      settings.PUT,
      { body: { runs: 0, returnVisits: false, ownClock: true, steps: '' } },
      /^400 At least one run/,
    ],
    [
      'a step that is none',
      settings.PUT,
      { body: { runs: 3, returnVisits: false, ownClock: true, steps: 'wave' } },
      /^400 “wave” is no step/,
    ],
    ['an empty file of figures', figures.POST, { body: { text: '' } }, /^400 The file is empty/],
    [
      'a file of other figures',
      figures.POST,
      { body: { text: 'a,b\n1,2' } },
      /^400 The file’s first line does not name the columns/,
    ],
    [
      'the owner of no domain',
      owners.PUT,
      { body: { domains: ['not a domain'], name: 'x' } },
      /^400 That is no domain/,
    ],
    [
      'built-in conditions changed',
      conditions.PUT,
      { body: findConditions('slow-phone') },
      /^400 “Slow phone” is built in\. Copy it/,
    ],
  ])('%s', async (_what, handler, request, sentence) => {
    expect(await refusal(ask(handler, request))).toMatch(sentence);
    expect(await pageNames()).toHaveLength(9);
  });
});

describe('conditions of one’s own', () => {
  it('are kept within limits, listed, and deleted', async () => {
    const own: Conditions = { ...findConditions('slow-phone')!, id: 'pier', name: 'Pier', downKbps: 2_500 };
    expect(await refusal(ask(conditions.PUT, { body: { ...own, downKbps: 200_000 } }))).toBe(
      '400 Rate down: at most 100,000.',
    );
    await ask(conditions.PUT, { body: own });
    const listed = async () =>
      ((await (await ask(conditions.GET)).json()) as { own: Conditions[] }).own.map((one) => one.name);
    expect(await listed()).toEqual(['Pier']);
    await ask(oneCondition.DELETE, { id: 'pier' });
    expect(await listed()).toEqual([]);
  });
});

describe('pages', () => {
  it('are added with their site, renamed, put in families, moved and deleted', async () => {
    await ask(pages.POST, { body: { url: 'http://quay.test/a#top', siteName: 'Quay' } });
    await ask(manyPages.POST, { body: { pages: [{ url: 'http://quay.test/b', name: 'B' }] } });
    const quay = async () =>
      (
        (await (await ask(board.GET)).json()) as {
          sites: { name: string; pages: { id: number; name: string; url: string; family: string }[] }[];
        }
      ).sites.find((site) => site.name === 'Quay')!.pages;
    const [a, b] = await quay();
    expect(a!.url).toBe('http://quay.test/a');
    await ask(page.PATCH, { id: a!.id, body: { name: 'Berths' } });
    await ask(manyPages.PATCH, { body: { pageIds: [a!.id, b!.id], family: ' quayside ' } });
    await ask(manyPages.PATCH, { body: { pageIds: [b!.id], family: '' } });
    await ask(page.PATCH, { id: b!.id, body: { move: 'up' } });
    expect((await quay()).map((one) => [one.name, one.family])).toEqual([
      ['B', ''],
      ['Berths', 'quayside'],
    ]);
    await ask(page.DELETE, { id: b!.id });
    await ask(manyPages.POST, {
      body: { pages: [{ url: 'http://quay.test/c' }, { url: 'http://quay.test/d' }] },
    });
    const none = await ask(manyPages.DELETE, { body: { pageIds: [] } });
    expect([none.status, await none.json()]).toEqual([400, { error: 'Name at least one page.' }]);
    const [first, ...others] = (await quay()).map(({ id }) => id);
    await ask(manyPages.DELETE, { body: { pageIds: others } });
    expect((await quay()).map(({ id }) => id)).toEqual([first]);
    await ask(page.DELETE, { id: first! });
    expect(await pageNames()).toHaveLength(9);
  });
});

describe('what is decided for a whole site', () => {
  it('holds on its pages, goes out as a file, and is taken back', async () => {
    const onPage = async () =>
      (await applicationRead('plan', HOME, 'slow-phone'))?.plan.rules.find(({ match }) =>
        JSON.stringify(match).includes('/assets/lib.js'),
      );
    const before = await onPage();
    expect(before!.treatment).not.toBe('as-authored');
    const decision = {
      kind: 'script',
      knownBy: 'name',
      what: 'lib.js',
      treatment: 'as-authored',
      why: 'Asked for.',
    };
    await ask(decisions.POST, { body: { ...decision, scope: 'site' } });
    expect(await onPage()).toMatchObject({ treatment: 'as-authored', scope: 'site', why: 'Asked for.' });
    const file = (await (await ask(decisions.GET)).json()) as { decisions: unknown[] };
    expect(file).toEqual({ wistrelDecisions: 1, decisions: [{ ...decision, family: null, spared: [] }] });
    // What was decided before about the same is replaced, and there is one of it.
    await ask(decisions.POST, { body: { ...decision, scope: 'site', why: '' } });
    const { wide } = (await applicationRead('treat', HOME, 'slow-phone'))!;
    expect(wide).toHaveLength(1);
    await ask(oneDecision.DELETE, { id: wide[0]!.id });
    expect(await onPage()).toEqual(before);
  });
});

describe('a plan that is kept', () => {
  it('decides only what differs from the recommended one that it was decided over', async () => {
    const now = async () => (await applicationRead('plan', HOME, 'slow-phone'))!;
    const { recommended, plan: before } = await now();
    const [first, second] = recommended.rules.filter(
      ({ on, treatment }) => on && treatment !== 'as-authored',
    );
    const without = (rule: typeof first, of: typeof recommended) => ({
      ...of,
      rules: of.rules.map((one) => (one.id === rule!.id ? { ...one, on: false } : one)),
    });
    // Meanwhile rehearsing has excepted the second: who decides about the first has not seen that.
    const seen = without(second, recommended);
    await ask(plan.PUT, {
      id: HOME,
      query: '?conditions=slow-phone',
      body: { ...without(first, seen), over: seen },
    });
    const kept = await now();
    const isOn = (rule: typeof first) => kept.plan.rules.find(({ id }) => id === rule!.id)!.on;
    expect([isOn(first), isOn(second)]).toEqual([false, true]);
    await ask(plan.DELETE, { id: HOME });
    expect((await now()).plan).toEqual(before);
  });
});

describe('the queue', () => {
  it('takes the same work once, and gives it back when it is cancelled', async () => {
    const body = { kind: 'trial', pageId: HOME, conditionsId: 'slow-phone' };
    const first = (await (await ask(jobs.POST, { body })).json()) as { id: number; state: string };
    const again = (await (await ask(jobs.POST, { body })).json()) as { id: number };
    expect(again.id).toBe(first.id);
    expect(first.state).toBe('waiting');
    await ask(job.DELETE, { id: first.id });
    expect(await (await ask(job.GET, { id: first.id })).json()).toMatchObject({ state: 'cancelled' });
    const anew = (await (await ask(jobs.POST, { body })).json()) as { id: number };
    expect(anew.id).not.toBe(first.id);
    await ask(job.DELETE, { id: anew.id });
  });

  it('takes a trial with further arms, and does not send a whole plan about with it', async () => {
    const { plan: other } = (await applicationRead('plan', HOME, 'slow-phone'))!;
    const body = { conditionsId: 'slow-phone', idealPage: true, otherPlan: other };
    const started = (await (await ask(trialRoute.POST, { body })).json()) as { id: number; kind: string };
    expect(started).toMatchObject({ kind: 'trial', state: 'waiting', input: { idealPage: 'yes' } });
    expect(JSON.stringify(started)).not.toContain('wistrelPlan');
    const kept = await findJob(await applicationDatabase(), started.id);
    expect(JSON.parse(String(kept!.input!['otherPlan']))).toMatchObject(other);
    // Another one would not be the same: it is not quietly left out.
    expect(await refusal(ask(trialRoute.POST, { body: { ...body, idealPage: false } }))).toMatch(
      /A trial of this page waits or runs already\. Let it end, or take it out of the queue/,
    );
    await ask(job.DELETE, { id: started.id });
    const again = { conditionsId: 'slow-phone', visit: 'return' };
    const ofReturns = (await (await ask(trialRoute.POST, { body: again })).json()) as { id: number };
    expect(ofReturns).toMatchObject({ kind: 'trial', input: { visit: 'return' } });
    await ask(job.DELETE, { id: ofReturns.id });
    expect(await refusal(ask(trialRoute.POST, { body: { ...again, visit: 'third' } }))).toMatch(
      /^400 “visit/,
    );
    expect(await refusal(ask(trialRoute.POST, { body: { ...body, otherPlan: { rules: 1 } } }))).toMatch(
      /^400 “otherPlan/,
    );
  });

  it('excepts a rule of the plan, and says where there is none of the kind any more', async () => {
    const before = (await applicationRead('plan', HOME, 'slow-phone'))!;
    const rule = activeRules(before.plan).find(({ treatment }) => treatment === 'delay')!;
    const why = 'In a trial with it: 1 new console error.';
    const excepted = (ruleId: string, said = why) =>
      ask(exceptions.POST, { id: HOME, body: { ruleId, why: said } });
    expect(await refusal(excepted('none'))).toMatch(
      /^404 The plan has no such rule that acts any more.*Nothing stored was changed\. Run the trial again\./,
    );
    expect(await refusal(excepted(rule.id, ' '))).toMatch(/^400 /);
    expect((await applicationRead('plan', HOME, 'slow-phone'))!.own).toBe(false);
    const { sentence } = (await (await excepted(rule.id)).json()) as { sentence: string };
    expect(sentence).toMatch(/^Excepted: .+ now instead of “delay until interaction”\.$/);
    const now = (await applicationRead('plan', HOME, 'slow-phone'))!;
    expect(now.plan.rules.find(({ id }) => id === rule.id)).toMatchObject({ why });
    await ask(plan.DELETE, { id: HOME });
  });

  it('tries an import that failed again with its upload, and says when that is gone', async () => {
    const db = await applicationDatabase();
    const uploaded = new ReadableStream({ start: (it) => (it.enqueue(Buffer.from('{}')), it.close()) });
    const uploadId = await keepUpload(db, uploaded);
    const id = await addJob(db, 'import', null, 'slow-phone', { name: 'kept.har', uploadId });
    await endJob(db, id, 'failed', 'It is no HAR.');
    const again = (await (await ask(job.POST, { id, body: {} })).json()) as { id: number; state: string };
    expect(again).toMatchObject({ kind: 'import', state: 'waiting', input: { name: 'kept.har', uploadId } });
    expect(again.id).not.toBe(id);
    await ask(job.DELETE, { id: again.id });
    await deleteUpload(db, uploadId);
    expect(await refusal(ask(job.POST, { id, body: {} }))).toBe(
      '409 The file kept.har is not kept any more. Choose it again.',
    );
  });
});

describe('what is taken away from a page', () => {
  it('gives its pictures as they were captured, and nothing else under that address', async () => {
    const of = (file: string) =>
      ask(assetPicture.GET, {
        query: `?conditions=slow-phone&url=${encodeURIComponent(`${ORIGIN}/assets/${file}`)}`,
      });
    const picture = await of('hero.jpg');
    expect(picture.headers.get('content-type')).toBe('image/jpeg');
    expect(picture.headers.get('content-security-policy')).toMatch(/default-src 'none'.*sandbox/);
    expect([...new Uint8Array(await picture.arrayBuffer()).subarray(0, 3)]).toEqual([0xff, 0xd8, 0xff]);
    for (const file of ['lib.js', 'nowhere.png'])
      expect(await refusal(of(file))).toBe('404 The capture holds no such picture.');
  });

  it('is a table of its assets that opens as one', async () => {
    const text = await (await ask(csv.GET)).text();
    const [head, ...rows] = text.trim().split('\n');
    expect(head).toContain('hold');
    expect(rows.some((row) => row.includes('framework.css') && row.includes('holds'))).toBe(true);
  });

  it('is an archive: the treated HTML, the files it asks for, and the plan', async () => {
    const archive = unzipSync(new Uint8Array(await (await ask(download.GET)).arrayBuffer()));
    expect(Object.keys(archive)).toEqual(expect.arrayContaining(['page.html', 'plan.json']));
    const html = Buffer.from(archive['page.html']!).toString('latin1');
    expect(html).toContain('<style>');
    expect(html).toContain('media="print"');
    const { rules } = JSON.parse(Buffer.from(archive['plan.json']!).toString()) as { rules: unknown[] };
    expect(rules.length).toBeGreaterThan(10);
  });

  it('needs a measuring first, and says so', async () => {
    expect(await refusal(ask(csv.GET, { query: '?conditions=office-desktop', id: 2 }))).toMatch(
      /^404 The page was not measured yet/,
    );
    expect(await refusal(ask(download.GET, { id: 2 }))).toMatch(/^404 The page was not measured yet/);
  });
});

describe('footnotes', () => {
  it('are numbered on; a number is not given again', async () => {
    const leave = async (text: string) =>
      (
        (await (await ask(footnotes.POST, { body: { urls: [], atMs: null, text } })).json()) as {
          number: number;
        }
      ).number;
    expect([await leave('One.'), await leave('Two.')]).toEqual([1, 2]);
    const view = async () =>
      ((await (await ask(map.GET)).json()) as { footnotes: { id: number; number: number; text: string }[] })
        .footnotes;
    const [one, two] = await view();
    await ask(footnote.PATCH, { id: one!.id, body: { text: 'One, said better.' } });
    expect((await view()).map((note) => note.text)).toEqual(['One, said better.', 'Two.']);
    await ask(footnote.DELETE, { id: two!.id });
    expect((await view()).map((note) => note.number)).toEqual([1]);
    expect(await leave('Three.')).toBe(3);
  });
});

describe('how a page is measured', () => {
  it('shows secrets masked only, and keeps them when they are not given again', async () => {
    const body = { runs: 5, returnVisits: true, ownClock: true, steps: 'press .accept' };
    const secrets = { headers: [['X-Crew', 'hidden']], cookies: [{ name: 'session', value: 'very-secret' }] };
    await ask(settings.PUT, { body: { ...body, secrets } });
    await ask(settings.PUT, { body: { ...body, runs: 4 } });
    const text = await (await ask(settings.GET)).text();
    expect(text).not.toMatch(/very-secret|hidden/);
    expect(JSON.parse(text)).toMatchObject({ runs: 4, steps: 'press .accept' });
    expect(text).toContain('X-Crew');
  });
});

describe('checks of one’s own', () => {
  it('are kept with a page or with all pages of its family, each once', async () => {
    const database = await applicationDatabase();
    const others = [
      'http://127.0.0.1:3999/news/pier',
      'http://127.0.0.1:3999/news/quay',
      'http://127.0.0.1:3999/lone',
    ];
    await ask(manyPages.POST, { body: { pages: others.map((url) => ({ url })) } });
    const idOf = async (path: string) =>
      (await listPages(database)).find((one: Page) => one.url.endsWith(path))!.id;
    const [pier, quay, lone] = [await idOf('/news/pier'), await idOf('/news/quay'), await idOf('/lone')];
    for (const id of [pier, quay])
      await database.query("UPDATE page SET family = 'news' WHERE id = $1", [id]);
    await database.query("UPDATE page SET family = '' WHERE id = $1", [lone]);
    const texts = async (id: number) => (await ownChecksOf(database, id)).map(({ text }) => text);

    await ask(ownChecks.PUT, {
      id: pier,
      body: { page: 'see Pier\npress Menu, see Booking', family: 'press Menu, see Booking' },
    });
    expect(await texts(pier)).toEqual(['press Menu, see Booking', 'see Pier']);
    expect(await texts(quay)).toEqual(['press Menu, see Booking']);
    // Nothing is kept for the family of a page that has none, nor of what is refused.
    await ask(ownChecks.PUT, { id: lone, body: { page: '', family: 'see Lone' } });
    await ask(ownChecks.PUT, { id: quay, body: { page: 'see Quay', family: 'open Menu' } });
    expect([await texts(lone), await texts(quay)]).toEqual([[], ['press Menu, see Booking']]);
    expect(await (await ask(ownChecks.GET, { id: quay })).json()).toEqual({
      page: '',
      family: { name: 'news', text: 'press Menu, see Booking' },
    });
  });
});

describe('the stream of jobs', () => {
  it('tells all of them at first, and again when one is other than before; whoever leaves ends it', async () => {
    const leaves = new AbortController();
    const answer = jobStream.GET(new Request('http://127.0.0.1/api/jobs/stream', { signal: leaves.signal }));
    expect(answer.headers.get('content-type')).toBe('text/event-stream');
    const reader = answer.body!.pipeThrough(new TextDecoderStream()).getReader();
    const told = async () => {
      const { value = '' } = await reader.read();
      return (JSON.parse(value.replace(/^data: /, '')) as { id: number; state: string }[]).map(
        ({ id, state }) => `${id} ${state}`,
      );
    };
    const before = await told();
    const database = await applicationDatabase();
    const id = await addJob(database, 'fold', HOME, 'slow-phone');
    expect(await told()).toEqual(expect.arrayContaining([...before, `${id} waiting`]));
    await endJob(database, id, 'cancelled', '');
    expect(await told()).toContain(`${id} cancelled`);
    leaves.abort();
  });
});
