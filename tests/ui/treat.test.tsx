// @vitest-environment jsdom
import { act, cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react';
import { expect, it, vi } from 'vitest';
import { matchText } from '@/core/treat/plan';
import { TREATMENTS } from '@/core/treat/treatments';
import { TREATMENT_KEYS } from '@/ui/stages/treat/RuleDetail';
import { readOwnChecks } from '@/core/checks/own-check';
import { HOME_CHECKS } from '@/demo/site/pages';
import { listJobs } from '@/store/jobs';
import { saveOwnChecks } from '@/store/own-checks';
import {
  acceptFold,
  dropPageDecisions,
  latestFold,
  latestTrial,
  pictureImage,
  savePageDecisions,
} from '@/store/proofs';
import { keepDecisions, rebindDecisions } from '@/usecases/page-decisions';
import { keepRehearsed } from '@/usecases/rehearsal';
import { measuredPage, planFor } from '@/usecases/stored-page';
import { eventually, open, put, rowsOf, sentence, withDemo } from './application';
import { goTo, placeNow } from './navigation';

vi.mock('next/navigation', () => import('./navigation'));
const { database } = withDemo();
const TREAT = '/pages/1/treat?conditions=slow-phone';

const row = (name: string) =>
  screen.getAllByRole('row').find((one) => one.querySelector('b')?.textContent === name)!;
const switches = () => screen.getAllByRole('switch');
const detail = () => within(screen.getByRole('complementary', { name: 'Evidence' }));
const choices = () => within(detail().getByRole('radiogroup', { name: 'Treatment' }));

it('says how many rules act, and of each what it does, its risk and its reason', async () => {
  const user = await open(TREAT);
  const acting = switches().filter((one) => (one as HTMLInputElement).checked).length;
  expect(await sentence()).toMatch(
    new RegExp(`^${acting} of ${switches().length} rules act on a first paint of [\\d,]+ ms\\.`),
  );
  expect(rowsOf(row('lib.js').closest('table')!)[0]).toBe(
    ' | On | Asset | Wire | Does | As authored → treatment | Risk | Rehearsed',
  );
  await user.click(row('lib.js'));
  expect(row('lib.js').textContent).toMatch(/parser-blocking → defer/);
  expect(detail().getByText(/2 inline scripts that read it move after it/)).toBeTruthy();
});

it('calls an embed what the page calls it, and says whose it is', async () => {
  await open(TREAT);
  expect(row('Film of the crossing').textContent).toMatch(/Film of the crossing reelcove/);
});

it('has a letter for each treatment of a kind, which does nothing else there', () => {
  for (const [kind, treatments] of Object.entries(TREATMENTS)) {
    const letters = treatments.map(({ id }) => TREATMENT_KEYS[id] ?? `none for ${id}`);
    expect(letters, kind).toEqual(letters.map((): unknown => expect.stringMatching(/^[^gjkur]$/)));
    expect(new Set(letters).size, kind).toBe(letters.length);
  }
});

it('merges scripts in a row: what goes with one says so, and what has its own treatment refuses', async () => {
  const user = await open(TREAT);
  const merged = () => choices().getByRole('radio', { name: /^merged into one file/ });
  await user.click(row('carousel.js'));
  expect(merged().closest('label')!.textContent).toContain('refused: board.js would have to go with it');
  await user.click(row('board.js'));
  await user.click(choices().getByRole('radio', { name: /^as authored/ }));
  await eventually(() => expect(row('board.js').textContent).toMatch(/→ as authored/));
  await user.click(row('carousel.js'));
  await user.click(merged());
  await eventually(() => expect(row('carousel.js').textContent).toMatch(/→ merged into one file/));
  expect(row('board.js').textContent).toMatch(/→ with carousel\.js/);
  // What it was to bring along stays behind with another treatment.
  await user.click(choices().getByRole('radio', { name: /^as authored/ }));
  await eventually(() => expect(row('board.js').textContent).toMatch(/→ as authored/));
  await user.click(screen.getByRole('button', { name: 'Back to the recommended plan' }));
  await eventually(() => expect(row('board.js').textContent).toMatch(/→ defer/));
  // Deferred as well, in one file, what was deferred by itself goes with it.
  await user.click(row('carousel.js'));
  await user.click(choices().getByRole('radio', { name: /^merged, and deferred/ }));
  await eventually(() => expect(row('carousel.js').textContent).toMatch(/→ merged, and deferred/));
  expect(row('board.js').textContent).toMatch(/→ with carousel\.js/);
  await user.click(screen.getByRole('button', { name: 'Back to the recommended plan' }));
  await eventually(() => expect(row('board.js').textContent).toMatch(/→ defer/));
});

it('gives images their own treatments, refused where they would be late on the first screen', async () => {
  const user = await open(TREAT);
  expect(row('hero.jpg').textContent).toMatch(/largest paint → early \+ room kept/);
  await user.click(row('hero.jpg'));
  expect(
    choices().getByRole('radio', { name: /^when near \+ room kept\s*refused: it stands on/ }),
  ).toHaveProperty('disabled', true);
  await user.click(row('news-1.jpg'));
  await user.click(choices().getByRole('radio', { name: /^room kept/ }));
  await eventually(() => expect(row('news-1.jpg').textContent).toMatch(/further down → room kept/));
  await user.click(screen.getByRole('button', { name: 'Back to the recommended plan' }));
  await eventually(() => expect(row('news-1.jpg').textContent).toMatch(/when near \+ room kept/));
});

it('refuses what would break the page, with the line; what is recommended is never refused', async () => {
  const user = await open(TREAT);
  await user.click(row('lib.js'));
  expect(
    choices().getByRole('radio', { name: /^left out\s*refused: line \d+ of the page reads/ }),
  ).toHaveProperty('disabled', true);
  for (const one of screen.getAllByRole('row').slice(1)) {
    await user.click(one);
    const chosen = choices().getByRole('radio', { checked: true });
    expect(chosen, chosen.closest('label')!.textContent).toHaveProperty('disabled', false);
  }
});

it('says in how many orders the recommended plan was rehearsed, and what was excepted with its evidence', async () => {
  await open(TREAT);
  const said = screen.getByText(
    /^Rehearsed: in all \d+ orders of arrival, and with \d+ things done on it as a visitor would, the page becomes what it is as authored\./,
  );
  expect(said.textContent).toMatch(/One rule was at fault, and excepted\.$/);
  expect(
    screen.getByText(/^chat\.js, delay until interaction: As treated, the page .* \(on a phone/),
  ).toBeTruthy();
  expect(row('chat.js').textContent).toMatch(/→ after first paint.*weakened$/);
  expect(row('lib.js').textContent).toMatch(/same$/);
});

it('keeps checks of one’s own with the page: what was rehearsed or tried without them does not count until they go', async () => {
  const user = await open(TREAT);
  await user.click(await screen.findByText('Checks of your own: 1'));
  const field = screen.getByRole('textbox', { name: 'What this page does, one check a line' });
  expect((field as HTMLTextAreaElement).value).toBe(HOME_CHECKS);
  await user.clear(field);
  await put(user, field, 'open Menu');
  await user.click(screen.getByRole('button', { name: 'Keep these checks' }));
  expect(
    await screen.findByText(/^“open Menu” in “open Menu” is no step\. Write “press WORDS”/),
  ).toBeTruthy();
  await user.clear(field);
  await put(user, field, 'press Menu, see Timetable\nsee Skerravane');
  await user.click(screen.getByRole('button', { name: 'Keep these checks' }));
  expect(await screen.findByText(/^Not rehearsed: legal by reading alone/)).toBeTruthy();
  expect(await screen.findByText('Checks of your own: 2')).toBeTruthy();

  cleanup();
  await open(TREAT.replace('treat', 'prove'));
  expect(screen.getByText(/^This trial is out of date: .*the checks of your own were changed/)).toBeTruthy();

  await saveOwnChecks(await database(), 1, HOME_CHECKS, null);
  cleanup();
  await open(TREAT);
  expect(screen.getByText(/^Rehearsed: in all \d+ orders of arrival/)).toBeTruthy();
});

it('records a check in a window of its own, and hears nobody else', async () => {
  const user = await open(TREAT);
  const opened = { close: vi.fn(), location: { replace: vi.fn() } };
  const opens = vi.spyOn(window, 'open').mockReturnValue(opened as unknown as Window);
  await user.click(await screen.findByText(/^Checks of your own: /));
  await user.click(screen.getByRole('button', { name: 'Record a check by doing it' }));
  await waitFor(() => expect(opened.location.replace).toHaveBeenCalled());
  expect(opens).toHaveBeenCalledOnce();
  const { origin } = new URL(opened.location.replace.mock.calls[0]![0] as string);
  const say = (from: string, source: unknown, wistrelCheck: unknown) =>
    act(
      () =>
        void fireEvent(
          window,
          new MessageEvent('message', { origin: from, source: source as Window, data: { wistrelCheck } }),
        ),
    );
  const field = screen.getByLabelText<HTMLTextAreaElement>('What this page does, one check a line');
  const before = field.value;
  // The page that is clicked through is captured, and anybody's.
  say('http://h0.elsewhere.localhost', opened, 'press Away, see Away');
  say(origin, window, 'press Away, see Away');
  say(origin, opened, 'press Away\nsee Away');
  say(origin, opened, { check: 'press Away' });
  expect(field.value).toBe(before);
  say(origin, opened, 'press Menu, see Booking');
  expect(field.value).toBe([before, 'press Menu, see Booking'].filter(Boolean).join('\n'));
  opens.mockReturnValue(null);
  await user.click(screen.getByRole('button', { name: 'Record a check by doing it' }));
  expect(
    await screen.findByText(/^Your browser let no window be opened\. Allow windows for this address/),
  ).toBeTruthy();
  opens.mockRestore();
});

it('says that a plan of one’s own is not rehearsed, and queues that; what breaks in it can be taken out', async () => {
  const user = await open(TREAT);
  await user.click(screen.getByRole('switch', { name: 'carousel.js: defer' }));
  expect(await screen.findByText(/^Not rehearsed: legal by reading alone/)).toBeTruthy();
  await eventually(() => expect(row('lib.js').textContent).toMatch(/not yet$/));
  await user.click(screen.getByRole('button', { name: 'Rehearse' }));
  expect(await screen.findByRole('button', { name: 'Waiting…' })).toBeTruthy();
  const db = await database();
  expect(await listJobs(db)).toMatchObject([{ kind: 'rehearse', pageId: 1, state: 'waiting' }]);
  await db.query('DELETE FROM job');

  const page = (await measuredPage(db, 1, 'slow-phone'))!;
  const { start, fold } = await planFor(db, 1, page);
  const lib = start.rules.find((one) => JSON.stringify(one.match).includes('/lib.js'))!;
  const picture = (await pictureImage(db, 1))!.image;
  const without = {
    ...start,
    rules: start.rules.map((one) => (one === lib ? { ...one, treatment: 'as-authored' } : one)),
  };
  await keepRehearsed(
    db,
    { pageId: 1, capture: page.capture, state: page.state, fold, checks: readOwnChecks(HOME_CHECKS) },
    start,
    {
      plan: without,
      exceptions: [
        {
          ruleId: lib.id,
          treatment: 'defer',
          becomes: 'as-authored',
          evidence: 'As treated, the page lacks nav.',
        },
      ],
      gaveUp: false,
      held: 16,
      left: [],
      deeds: [{ words: 'on a phone, scrolled through', effect: 'nothing changes', undecided: null }],
      masked: [],
      races: [],
      later: [],
      byItself: ['div.slide'],
    },
    [{ ruleId: lib.id, authored: picture, treated: picture, difference: picture }],
  );
  cleanup();
  await open(TREAT);
  expect(
    screen.getByText(/^Rehearsed: one rule changes what the page becomes\. Do not use it as it is\.$/),
  ).toBeTruthy();
  expect(
    screen.getByText('The page changes by itself, and what it changes is not compared: div.slide.'),
  ).toBeTruthy();
  expect(row('lib.js').textContent).toMatch(/breaks the page$/);
  await user.click(row('lib.js'));
  const seen = within(detail().getByRole('group', { name: 'What rehearsing saw' }));
  const pictures = ['as authored', 'with this rule', 'where they differ'].map((of) =>
    seen.getByRole('img', { name: `The page ${of}` }).getAttribute('src'),
  );
  expect(new Set(pictures).size).toBe(3);
  expect((await fetch(pictures[0]!)).headers.get('content-type')).toMatch(/^image\//);
  await user.click(screen.getByRole('button', { name: 'Take out what breaks' }));
  await eventually(() => expect(row('lib.js').textContent).toMatch(/parser-blocking → as authored/));
  expect(
    await screen.findByText(
      /^Rehearsed: in all 16 orders of arrival, and with one thing done on it as a visitor would, the page becomes what it is as authored/,
    ),
  ).toBeTruthy();
  await user.click(screen.getByRole('button', { name: 'Back to the recommended plan' }));
  await screen.findByText('The recommended plan.');
});

it('says what became of one’s own plan when the page was measured again, until that is put away', async () => {
  const db = await database();
  const page = (await measuredPage(db, 1, 'slow-phone'))!;
  const { start } = await planFor(db, 1, page);
  const old = (text: string) => text.replace('/assets/lib.js', '/assets/lib.4f2a91bc.js?v=3');
  const before = JSON.parse(old(JSON.stringify(start))) as typeof start;
  const rules = before.rules.flatMap((rule) => {
    if (rule.kind === 'font') return [];
    return JSON.stringify(rule.match).includes('carousel')
      ? [{ ...rule, match: { url: 'https://gone.test/old.js' } }]
      : [rule];
  });
  await savePageDecisions(db, 1, { rules, knew: rules });
  await rebindDecisions(db, 1, 'slow-phone');
  const user = await open(TREAT);
  expect(screen.getByText('One rule has found its asset: lib.4f2a91bc.js is now lib.js.')).toBeTruthy();
  expect(screen.getByText('One rule has lost its asset, and does nothing: old.js.')).toBeTruthy();
  expect(
    screen.getByText(/^3 assets are new, and treated as recommended: carousel\.js; pier-regular\.woff2; /),
  ).toBeTruthy();
  expect(row('lib.js').textContent).toMatch(/→ defer/);
  await user.click(screen.getByRole('button', { name: 'Put away' }));
  await eventually(() => expect(screen.queryByText(/^One rule has found its asset/)).toBeNull());
  await user.click(screen.getByRole('button', { name: 'Back to the recommended plan' }));
  await screen.findByText('The recommended plan.');
});

it('lets a treatment be chosen, says what that takes with it, and goes back to what is recommended', async () => {
  const user = await open(TREAT);
  await user.click(row('carousel.js'));
  await user.click(choices().getByRole('radio', { name: 'as authored' }));
  expect(
    await screen.findByText(
      'What you decided stays when the page is measured again; all else is as recommended.',
    ),
  ).toBeTruthy();
  // The carousel reads the library: that cannot be deferred now.
  await eventually(() => expect(row('lib.js').textContent).toMatch(/Not applied\..*carousel\.js/));
  await user.click(row('lib.js'));
  expect(choices().getByRole('radio', { name: /^defer\s*refused: .*carousel\.js/ })).toBeTruthy();
  await user.click(screen.getByRole('button', { name: 'Back to the recommended plan' }));
  expect(await screen.findByText('The recommended plan.')).toBeTruthy();
  await eventually(() => expect(row('lib.js').textContent).not.toContain('Not applied.'));
});

it('switches a rule off and on again, and says what it would have been', async () => {
  const user = await open(TREAT);
  const rule = screen.getByRole('switch', { name: 'carousel.js: defer' });
  await user.click(rule);
  await eventually(() => expect(row('carousel.js').textContent).toContain('as authored (off: defer)'));
  await user.click(screen.getByRole('switch', { name: 'carousel.js: defer' }));
  await eventually(() => expect(row('carousel.js').textContent).not.toContain('off:'));
});

it('shows what belongs together, and each change in the page before and after', async () => {
  const user = await open(TREAT);
  await user.click(row('heads.js'));
  expect(detail().getByText('Goes with it')).toBeTruthy();
  // The page would stay hidden without it, and without its snippet it fails: so it stays, and says why.
  expect(detail().getByText(/they stay, as .* reads “twinhead”/)).toBeTruthy();
  await user.click(row('lib.js'));
  expect(detail().getByText('In the page')).toBeTruthy();
  expect(document.querySelector('.change .before')!.textContent).toMatch(/^− /);
  expect(document.querySelector('.change .after')!.textContent).toMatch(/^\+ /);
});

it('is gone through by keys', async () => {
  const user = await open(TREAT);
  const chosen = () =>
    screen.getAllByRole('row').findIndex((one) => one.getAttribute('aria-selected') === 'true');
  expect(chosen()).toBe(1);
  await user.keyboard('jj');
  expect(chosen()).toBe(3);
  await user.keyboard('k');
  expect(chosen()).toBe(2);
  await user.keyboard('5');
  expect(placeNow()).toBe('/pages/1/prove?conditions=slow-phone');
});

it('proves: the sentence first, every metric side by side, the checks, each pair, both pictures', async () => {
  const user = await open('/pages/1/prove?conditions=slow-phone');
  expect(await sentence()).toMatch(/earlier/);
  const tables = screen.getAllByRole('table').map(rowsOf);
  const metrics = tables.find((rows) => rows[0]!.startsWith('Medians of '))!;
  expect(metrics[0]).toMatch(/\| Median of paired differences$/);
  expect(metrics.find((line) => line.startsWith('First paint |'))).toMatch(
    /^First paint \| [\d,]+ \| [\d,]+ \| −[\d,]+$/,
  );
  const interval = tables.find((rows) => rows[0]!.startsWith('95 % interval'))!;
  expect(interval[1]).toMatch(/^First (contentful )?paint \| −[\d,]+ \| −[\d,]+ \| earlier$/);
  const there = tables.find((rows) => rows[0]!.startsWith('On a laptop (Home laptop)'))!;
  expect(there[0]).toMatch(/ \| It holds there too$/);
  expect(there[1]).toMatch(
    /^First (contentful )?paint[\d, →]+ ms \| [−+][\d,]+ \| (earlier|no clear difference)$/,
  );
  expect(there.at(-1)).toMatch(/^The same plan on the same bytes, 8 pairs: 1440×900/);
  const checks = tables.find((rows) => rows[0]!.startsWith('Did anything break?'))!;
  expect(checks.slice(1).map((line) => line.split(' | ')[0])).toEqual([
    'Final picture',
    expect.stringMatching(/^Console errors/),
    'Shown first, and drawn otherwise in the end: the frames',
    'Requests that fail only treated',
    'Requests no longer made',
    'Requests without an exact answer',
    'Rehearsed before, in many orders of arrival',
    'Taps at rest answered later: which',
    'Done on it as a visitor would: what, and what it came to',
  ]);
  expect(checks.at(-3)).toMatch(/ \| same in all \d+$/);
  const deeds = within(screen.getByRole('list', { name: 'Done on it as a visitor would' }));
  const lines = deeds.getAllByRole('listitem').map((one) => one.textContent);
  expect(checks.at(-1)).toMatch(new RegExp(` \\| same in all ${lines.length}$`));
  expect(lines).toContainEqual(
    expect.stringMatching(
      /^on a phone, “Menu” \(button\.[\w-]+\) tapped.*10 more elements are laid out.*the same$/,
    ),
  );
  expect(
    screen.getByText(
      /As many pairs as it takes, 24 at most: .*after \d+ nothing was\. The intervals allow for/,
    ),
  ).toBeTruthy();
  const pairs = tables.find((rows) => rows[0]!.startsWith('Pair | First'))!;
  expect(pairs.length).toBeGreaterThanOrEqual(9);
  for (const pair of pairs.slice(1)) expect(pair).toMatch(/^\d+ \| (as is|treated) \| [\d,]+ \| [\d,]+ \| −/);
  for (const name of ['As is', 'Treated', 'Difference: differing pixels in ink'])
    expect(screen.getByRole('img', { name }).getAttribute('src')).toMatch(/^\/api\/pictures\/picture\/\d+$/);
  await user.click(screen.getByRole('button', { name: 'Run the trial again' }));
  expect(await screen.findByRole('button', { name: 'Waiting…' })).toBeTruthy();
  expect(
    screen.getByText(/^Drawn: pair \d, whose difference is nearest to the median of all\.$/),
  ).toBeTruthy();
});

it('says that a trial is out of date once the plan has changed since', async () => {
  const user = await open(TREAT);
  await user.click(screen.getByRole('switch', { name: 'carousel.js: defer' }));
  await screen.findByText(
    'What you decided stays when the page is measured again; all else is as recommended.',
  );
  goTo('/pages/1/prove?conditions=slow-phone');
  expect(
    await screen.findByText(/^This trial is out of date: the plan was changed\. Run the trial again/),
  ).toBeTruthy();
  goTo(TREAT);
  await user.click(await screen.findByRole('button', { name: 'Back to the recommended plan' }));
  await screen.findByText('The recommended plan.');
});

it('says what does not hold on the other kind of device, and asks for a trial on both where one was tried', async () => {
  const db = await database();
  const change = (there: unknown) =>
    db.query("UPDATE trial SET data = jsonb_set(data, '{checks,otherDevice}', $1::jsonb)", [
      JSON.stringify(there),
    ]);
  const { checks } = (await latestTrial(db, 1, 'slow-phone'))!;
  const broken = { kind: 'console', words: '1 new console error' };
  await change({ ...checks.otherDevice, tooBusy: true, breaks: [broken] });
  await open('/pages/1/prove?conditions=slow-phone');
  const rows = screen.getAllByRole('table').map(rowsOf);
  const there = rows.find(([head]) => head!.startsWith('On a laptop'))!;
  expect(there[0]).toMatch(/It does not hold there$/);
  expect(there).toContain('Worse: 1 new console error');
  expect(there.at(-1)).toContain('The machine was too busy to trust these figures');
  cleanup();

  await change(null);
  await open('/pages/1/prove?conditions=slow-phone');
  expect(screen.getByText('Not tried on the other kind of device.')).toBeTruthy();
  expect(
    screen.getByText(/^This trial is out of date: an earlier version held it, on one kind of device only/),
  ).toBeTruthy();
  await change(checks.otherDevice);
});

const HANDOFF = '/pages/1/handoff?conditions=slow-phone';

it('hands off: what to put in by file and in its order, what it was proved by, and a way to take all of it', async () => {
  await open(HANDOFF);
  const said = /^(\d+) rules to put in: (\d+) changes in (\d+) files, and (\d+) new files\.$/.exec(
    await sentence(),
  )!;
  expect(said).not.toBeNull();
  expect(screen.getByRole('link', { name: /Hand off/ }).textContent).toContain(`${said[1]} rules to put in`);
  const changes = within(screen.getByRole('region', { name: 'Changes' }));
  expect(changes.getAllByRole('button', { name: 'Copy' })).toHaveLength(Number(said[2]));
  const files = changes.getAllByRole('heading', { level: 3 }).map((one) => one.textContent);
  // Many new files stand in one list.
  expect(files).toHaveLength(Number(said[3]) + 1);
  expect(files[0]).toMatch(
    new RegExp(`^${said[4]} new filesput them there first, from the archive · .* · 0 of ${said[4]} put in$`),
  );
  expect(files.at(-1)).toMatch(/^\/the page itself, from its top down · .* · 0 of \d+ put in$/);
  expect(screen.getByRole('link', { name: /^Download HTML/ }).getAttribute('href')).toBe(
    '/api/pages/1/download?conditions=slow-phone',
  );
  expect(document.querySelector('.note')!.textContent).toMatch(
    /^Treated, Home (paints|shows its first content) [\d,]+ ms earlier, over \d+ pairs[,.]/,
  );
});

it('of a plan that changes nothing says so, and where to go on', async () => {
  const db = await database();
  const now = await planFor(db, 1, (await measuredPage(db, 1, 'slow-phone'))!);
  const off = now.plan.rules.map((one) => ({ ...one, on: false }));
  await keepDecisions(db, 1, { ...now.plan, rules: off }, now);
  await open(HANDOFF);
  expect(await sentence()).toBe('0 rules to put in, and nothing to change in the page.');
  expect(screen.getByText(/no rule of the plan changes anything\. Switch rules on in Treat\.$/)).toBeTruthy();
  await dropPageDecisions(db, 1);
});

it('is ticked off, change by change or a whole file, and stays so', async () => {
  const user = await open(HANDOFF);
  const total = Number(/ 0 of (\d+) put in$/.exec(screen.getByText(/before compression/).textContent!)![1]);
  const isPutIn = (count: number) =>
    expect(screen.getByText(/before compression/).textContent).toContain(` ${count} of ${total} put in`);
  const page = () => within(screen.getByRole('region', { name: '/' }));
  await user.click(page().getByRole('checkbox', { name: /^lib\.js: defer/ }));
  isPutIn(1);
  // What is done is no longer in the way.
  expect(page().queryByText(/lib\.js" defer/)).toBeNull();
  cleanup();
  await open(HANDOFF);
  isPutIn(1);
  await user.click(page().getAllByRole('checkbox')[0]!);
  isPutIn(page().getAllByRole('checkbox').length - 1);
  await user.click(page().getAllByRole('checkbox')[0]!);
  isPutIn(0);
});

it('uses fold CSS that is not proved by an explicit decision only', async () => {
  const db = await database();
  const fold = (await latestFold(db, 1))!;
  const prove = (proved: boolean) =>
    db.query('UPDATE fold SET data = data || $2::jsonb WHERE id = $1', [fold.id, JSON.stringify({ proved })]);
  await prove(false);
  const user = await open(TREAT);
  expect(await screen.findByText(/^The fold CSS is not proved: sheets stay as authored/)).toBeTruthy();
  goTo('/pages/1/fold?conditions=slow-phone');
  await user.click(await screen.findByRole('button', { name: 'Use it although it is not proved' }));
  expect(await screen.findByText('You decided to use it although it is not proved.')).toBeTruthy();
  expect((await latestFold(db, 1))!.accepted).toBe(true);
  await user.click(screen.getByRole('button', { name: 'No longer use it' }));
  expect(await screen.findByText('It is not proved, so no treatment uses it.')).toBeTruthy();
  await acceptFold(db, fold.id, false);
  await prove(true);
});

it.each([
  ['treat', 'There is nothing to treat yet.', 'Measure'],
  ['prove', 'There is nothing to prove yet.', 'Measure'],
  ['prove?visit=return', 'There is nothing to prove yet.', 'Measure'],
  ['handoff', 'There is nothing to hand off yet.', 'Measure'],
  ['fold', 'There is no fold CSS yet.', 'Generate fold CSS'],
])('the stage %s of a page with nothing in it says what comes first', async (stage, words, button) => {
  await open(`/pages/2/${stage}${stage.includes('?') ? '&' : '?'}conditions=slow-phone`);
  expect(await sentence()).toBe(words);
  expect(screen.getByRole('button', { name: button })).toBeTruthy();
});

it('gives treatments by their letters, undoes and does them again', async () => {
  const user = await open(TREAT);
  await user.click(row('carousel.js'));
  expect(choices().getByRole('radio', { name: 'as authored' }).getAttribute('aria-keyshortcuts')).toBe('o');
  await user.keyboard('o');
  await eventually(() => expect(row('carousel.js').textContent).toMatch(/→ as authored/));
  await user.keyboard('a');
  // Asynchronously it might run before its library: that is refused, by key as well.
  expect(row('carousel.js').textContent).toMatch(/→ as authored/);
  await eventually(() =>
    expect(screen.getByRole('button', { name: 'Undo' })).toHaveProperty('disabled', false),
  );
  await user.keyboard('u');
  await eventually(() => expect(row('carousel.js').textContent).toMatch(/→ defer/));
  expect(await screen.findByText('The recommended plan.')).toBeTruthy();
  await eventually(() =>
    expect(screen.getByRole('button', { name: 'Redo' })).toHaveProperty('disabled', false),
  );
  await user.keyboard('r');
  await eventually(() => expect(row('carousel.js').textContent).toMatch(/→ as authored/));
  await user.click(screen.getByRole('button', { name: 'Back to the recommended plan' }));
  await screen.findByText('The recommended plan.');
});

it('holds one’s own plan against the recommended one: what differs, why, and the way back for each', async () => {
  const user = await open(TREAT);
  await user.click(row('carousel.js'));
  await user.click(choices().getByRole('radio', { name: 'as authored' }));
  expect(await screen.findByText('One rule is as you decided, not as recommended.')).toBeTruthy();
  expect(screen.getByText('carousel.js: as authored instead of defer; no reason was given.')).toBeTruthy();
  const why = await screen.findByRole('textbox', { name: 'Why it is not as recommended' });
  await user.type(why, 'The harbour office asks for it.{Enter}');
  expect(
    await screen.findByText('carousel.js: as authored instead of defer. The harbour office asks for it.'),
  ).toBeTruthy();
  goTo('/pages/1/handoff?conditions=slow-phone');
  expect(
    await screen.findByText('carousel.js: as authored instead of defer. The harbour office asks for it.'),
  ).toBeTruthy();
  goTo(TREAT);
  const back = await screen.findAllByRole('button', { name: 'As recommended' });
  await user.click(back[0]!);
  // Nothing is decided any more.
  await screen.findByText('The recommended plan.');
  await eventually(() => expect(row('carousel.js').textContent).toMatch(/→ defer/));
});

it('holds another plan from a file against the page’s, and follows it where that is wished', async () => {
  const db = await database();
  const { plan } = await planFor(db, 1, (await measuredPage(db, 1, 'slow-phone'))!);
  const user = await open(TREAT);
  await user.click(screen.getByText('Compare another plan with this one'));
  const field = screen.getByLabelText(/^A plan file/);
  const file = (content: string) => new File([content], 'before.json', { type: 'application/json' });
  await user.upload(field, file('{ not a plan'));
  expect(
    await screen.findByText('before.json is no plan: it holds no JSON. Nothing was changed.'),
  ).toBeTruthy();
  await user.upload(field, file('{"wistrelPlan": 7}'));
  expect(await screen.findByText(/not a plan file of a version that is known here/)).toBeTruthy();
  await user.upload(field, file(JSON.stringify(plan)));
  expect(await screen.findByText('before.json does on this page what the plan here does.')).toBeTruthy();
  const rules = plan.rules.flatMap((rule) => {
    const of = matchText(rule.match);
    if (/carousel\.js$/.test(of)) return [{ ...rule, on: false, why: 'It was slow.' }];
    // What a file has no rule for is not treated.
    return /chat\.js$/.test(of) ? [] : [rule];
  });
  await user.upload(field, file(JSON.stringify({ ...plan, rules })));
  expect(await screen.findByText('before.json differs in 2 rules.')).toBeTruthy();
  expect(screen.getByText('carousel.js: as authored there, defer here.')).toBeTruthy();
  // Nothing is changed by looking.
  expect(screen.getByText('The recommended plan.')).toBeTruthy();
  await user.click(screen.getByRole('button', { name: 'Follow that plan' }));
  expect(await screen.findByText('2 rules are as you decided, not as recommended.')).toBeTruthy();
  expect(screen.getByText(/^carousel\.js: as authored instead of defer\. It was slow\.$/)).toBeTruthy();
  await user.click(screen.getByRole('button', { name: 'Back to the recommended plan' }));
  await screen.findByText('The recommended plan.');
});

it('says of each choice how much can go wrong, and takes that for the risk of the rule', async () => {
  const user = await open(TREAT);
  await user.click(row('chat.js'));
  expect(row('chat.js').textContent).toMatch(/medium/);
  const defer = choices().getByRole('radio', { name: /^defer/ });
  expect(defer.closest('label')!.textContent).toMatch(
    /low risk: it runs in its order, before the page is said to be ready/,
  );
  await user.click(defer);
  await eventually(() => expect(row('chat.js').textContent).toMatch(/defer.*low/));
  await user.click(screen.getByRole('button', { name: 'Back to the recommended plan' }));
  await screen.findByText('The recommended plan.');
});

it('changes several rules together, each only where it may be', async () => {
  const user = await open(TREAT);
  await user.click(row('lib.js'));
  await user.keyboard('g');
  await user.click(screen.getByRole('checkbox', { name: 'Mark carousel.js' }));
  await user.click(screen.getByRole('checkbox', { name: 'Mark framework.css' }));
  const marked = within(screen.getByRole('group', { name: 'Marked rules' }));
  expect(marked.getByText('3 rules are marked')).toBeTruthy();
  expect(marked.getByRole('option', { name: 'fold CSS + late (1 of 3 may have it)' })).toBeTruthy();
  await user.selectOptions(marked.getByRole('combobox', { name: 'Give them all' }), 'as-authored');
  await eventually(() => {
    for (const name of ['lib.js', 'carousel.js', 'framework.css'])
      expect(row(name).textContent).toMatch(/→ as authored/);
  });
  expect(await screen.findByText('3 rules are as you decided, not as recommended.')).toBeTruthy();
  await user.click(marked.getByRole('button', { name: 'Unmark' }));
  expect(screen.queryByRole('group', { name: 'Marked rules' })).toBeNull();
  await user.click(screen.getByRole('button', { name: 'Back to the recommended plan' }));
  await screen.findByText('The recommended plan.');
});

it('takes no more risk than is chosen, and says which ceiling the plan keeps to', async () => {
  const user = await open(TREAT);
  const ceiling = (name: string) =>
    within(screen.getByRole('group', { name: 'Risk taken' })).getByRole('button', { name });
  expect(ceiling('medium').getAttribute('aria-pressed')).toBe('true');
  expect(ceiling('high').getAttribute('aria-pressed')).toBe('false');
  await user.click(ceiling('low'));
  await eventually(() => expect(ceiling('low').getAttribute('aria-pressed')).toBe('true'));
  for (const one of screen.getAllByRole('row').slice(1)) {
    const [on, risk] = [within(one).getByRole('switch') as HTMLInputElement, one.children[6]!.textContent];
    if (risk !== 'low') expect(on.checked, one.textContent).toBe(false);
  }
  await user.click(ceiling('medium'));
  await screen.findByText('The recommended plan.');
});

it('shows the rules that are looked for', async () => {
  const user = await open(TREAT);
  const names = () =>
    screen
      .getAllByRole('row')
      .slice(1)
      .map((one) => one.querySelector('b')!.textContent);
  const all = names().length;
  await user.type(screen.getByRole('textbox', { name: 'Find a rule by name' }), '.js');
  expect(names()).toEqual(['heads.js', 'chat.js', 'bar.js', 'lib.js', 'carousel.js', 'board.js']);
  expect(screen.getByText(`6 of ${all} shown`)).toBeTruthy();
  const whose = screen.getByRole('combobox', { name: 'Whose rules are shown' });
  await user.selectOptions(whose, 'third parties’');
  expect(names()).toContain('chat.js');
  expect(names()).not.toContain('lib.js');
  await user.selectOptions(whose, 'one’s own');
  expect(names()).not.toContain('chat.js');
  expect(names()).toContain('lib.js');
  await user.selectOptions(whose, 'own and others’');
  await user.click(screen.getByRole('button', { name: 'Only before first paint' }));
  expect(names()).not.toContain('pier-regular.woff2');
  await user.clear(screen.getByRole('textbox', { name: 'Find a rule by name' }));
  await user.click(screen.getByRole('button', { name: 'JS: show scripts' }));
  expect(names()).toContain('framework.css');
  expect(names()).not.toContain('lib.js');
});

it('makes a decision one for the whole site, which spares pages, and takes it back', async () => {
  await dropPageDecisions(await database(), 1);
  const user = await open(TREAT);
  await user.click(screen.getByRole('switch', { name: 'carousel.js: defer' }));
  await eventually(() => expect(row('carousel.js').textContent).toMatch(/→ as authored/));
  await user.click(row('carousel.js'));
  await user.click(await detail().findByText('Decide so for more pages'));
  await user.selectOptions(detail().getByLabelText('For'), 'the whole site');
  await user.click(detail().getByRole('button', { name: 'Decide for the whole site' }));
  const said = await screen.findByText(
    /^The file carousel\.js of www\.skerravane\.localhost:\d+, whatever its version: never treated, for the whole site\./,
  );
  expect(said.textContent).toMatch(/1 rule of this page\.$/);
  // What is decided for all is no longer this page’s own.
  expect(await screen.findByText('The recommended plan.')).toBeTruthy();
  expect(row('carousel.js').textContent).toMatch(/→ as authored/);

  const spared = screen.getByLabelText(/^Pages that are left alone/);
  await user.type(spared, '/ /checkout*{Enter}');
  expect(await screen.findByText('This page is left alone.')).toBeTruthy();
  await eventually(() => expect(row('carousel.js').textContent).toMatch(/parser-blocking → defer/));
  await user.clear(screen.getByLabelText(/^Pages that are left alone/));
  await user.type(screen.getByLabelText(/^Pages that are left alone/), 'checkout{Enter}');
  expect(await screen.findByText(/^A page that is left alone is told by its path/)).toBeTruthy();
  await user.click(screen.getByRole('button', { name: 'Take back' }));
  await eventually(() => expect(screen.queryByText(/for the whole site/)).toBeNull());
});
