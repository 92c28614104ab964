// @vitest-environment jsdom
import { cleanup, screen, within } from '@testing-library/react';
import { expect, it, vi } from 'vitest';
import { addJob, endJob, listJobs, reportProgress, claimJob } from '@/store/jobs';
import { listPages, listSites } from '@/store/sites';
import { dialogGone, eventually, open, put, sentence, withDemo } from './application';
import { placeNow } from './navigation';

vi.mock('next/navigation', () => import('./navigation'));
const { database } = withDemo();

const names = async () => (await listPages(await database())).map((page) => page.name);
const shown = () =>
  [...screen.getByRole('table', { name: 'Pages' }).querySelectorAll('.board-name a')].map(
    (link) => link.textContent,
  );
const rowOf = (page: string) => screen.getByRole('link', { name: page }).closest('[role=row]')!;
/** Does something of what a row's menu has. */
async function does(user: Awaited<ReturnType<typeof open>>, name: string, act: string) {
  await user.click((await screen.findAllByRole('button', { name: `What to do with ${name}` }))[0]!);
  await user.click(await screen.findByRole('menuitem', { name: act }));
}

it('stands the paints of all pages on one scale, whose times are told above them', async () => {
  await open('/?conditions=slow-phone');
  const times = [...document.querySelectorAll<HTMLElement>('.board-scale i')];
  expect(times.map((one) => one.textContent)).toEqual(['2,000', '4,000']);
  const share = (one: HTMLElement) => parseFloat(one.style.left);
  const dot = document.querySelector<HTMLElement>('.board-track .dot:last-of-type')!;
  const paint = Number(document.querySelector('.value.as-is')!.textContent.replace(/\D/g, ''));
  // What is painted stands where its time stands.
  expect(share(dot) / paint).toBeCloseTo(share(times[0]!) / 2_000, 3);
});

it('says first when the page paints and what is proved, and lists the site with its pages', async () => {
  await open('/');
  expect(await sentence()).toMatch(
    /^9 pages, 8 not measured\. First contentful paint takes [\d,]+ ms on Home; what is proved brings Home to [\d,]+ ms\.$/,
  );
  expect(shown()).toEqual(await names());
  expect(screen.getByText(/demo data measured on \d{4}-\d\d-\d\d/)).toBeTruthy();
});

it('says of a page how it looks, what its paint waited for, what was gained, and what is next', async () => {
  await open('/');
  const home = rowOf('Home');
  expect(home.querySelector('img')!.src).toMatch(/\/api\/pictures\/frame\/\d+$/);
  expect(home.textContent).toMatch(/bar\.js, \d{3} ms, and \d+ more/);
  const gain = Number(/proved (\d+) ms earlier/.exec(home.textContent)![1]);
  const figure = (of: string) => Number(home.querySelector(of)!.textContent.replace(/\D/g, ''));
  expect(Math.abs(figure('.value.as-is') - figure('.value.treated') - gain)).toBeLessThan(40);
  expect(screen.getByRole('link', { name: 'Hand off for Home' }).getAttribute('href')).toContain(
    '/pages/1/handoff',
  );
  // What it costs stands beside it, and leads to where it is told.
  const worse = within(home as HTMLElement).getByText(/^\d got worse$/);
  expect(worse.getAttribute('title')).toMatch(/^Total blocking time grows by [\d,]+ ms; /);
  expect(worse.getAttribute('href')).toContain('/pages/1/prove');
  // What is not measured is measured where it stands.
  const other = rowOf('Timetable');
  expect(other.querySelector('img')).toBeNull();
  expect(other.textContent).toContain('not measured');
  expect(within(other as HTMLElement).getByRole('button', { name: 'Measure for Timetable' })).toBeTruthy();
});

it('tells what is proved of one page from its own figure, where more pages are measured', async () => {
  const db = await database();
  const [added] = await db.query<{ id: number }>(
    `INSERT INTO measurement (page_id, capture_id, conditions_id, taken_at, spreads, median_run, visit, conditions, yardstick, quality)
     SELECT 2, capture_id, conditions_id, taken_at, jsonb_set(spreads, '{firstPaintMs,median}', '900'), median_run, visit, conditions, yardstick, quality
     FROM measurement WHERE page_id = 1 AND visit = 'first' RETURNING id`,
  );
  await open('/');
  const said =
    /First paint takes ([\d,]+) ms at the median page; what is proved brings Home from ([\d,]+) ms to ([\d,]+) ms\.$/;
  const [, middle, from, to] = said.exec(await sentence())!.map((one) => Number(one.replace(',', '')));
  expect(middle).toBeLessThan(from!);
  expect(to).toBeLessThan(from!);
  // Nobody looked at what its paint waited for: it is not made up.
  expect(rowOf('Timetable').querySelector('.board-held')!.textContent).toBe('–');
  await db.query('DELETE FROM measurement WHERE id = $1', [added!.id]);
});

it('does something with the pages that are chosen, by pointer or by key; deleted together they come back together', async () => {
  const user = await open('/');
  const db = await database();
  const [first, second, third] = await names();
  await user.keyboard('gj');
  await user.click(screen.getByRole('checkbox', { name: `Choose ${third}` }));
  expect(screen.getByRole('checkbox', { name: `Choose ${first}` })).toHaveProperty('checked', true);
  // The second has the cursor, and is not chosen by that.
  expect(screen.getByRole('checkbox', { name: `Choose ${second}` })).toHaveProperty('checked', false);
  await user.click(screen.getByRole('button', { name: 'Fold CSS for these 2' }));
  await eventually(async () =>
    expect((await listJobs(db)).map((job) => [job.kind, job.pageName])).toEqual(
      expect.arrayContaining([
        ['fold', first],
        ['fold', third],
      ]),
    ),
  );
  for (const job of await listJobs(db)) await fetch(`/api/jobs/${job.id}`, { method: 'DELETE' });

  await user.click(screen.getByRole('button', { name: 'Put in a family' }));
  await user.type(await screen.findByRole('textbox', { name: /^Family/ }), 'harbour');
  await user.click(screen.getByRole('button', { name: 'Save' }));
  await dialogGone();
  const inFamily = async () =>
    (await listPages(db)).filter((page) => page.family === 'harbour').map((page) => page.name);
  expect(await inFamily()).toEqual([first, third]);

  await user.click(screen.getByRole('button', { name: 'Delete them' }));
  expect(
    await screen.findByText('2 pages are deleted, with captures, measurements, fold CSS, plan and trials.'),
  ).toBeTruthy();
  expect(shown()).not.toContain(first);
  expect(screen.getByRole('button', { name: 'Add pages' })).toBeTruthy();
  await user.keyboard('{Enter}');
  await eventually(() => expect(shown()).toEqual(expect.arrayContaining([first, third])));
  expect(await names()).toHaveLength(9);

  await user.click(screen.getByRole('checkbox', { name: 'Choose all that are shown' }));
  expect(screen.getByRole('button', { name: 'Measure all' })).toBeTruthy();
  await user.click(screen.getByRole('button', { name: 'Put in a family' }));
  await screen.findByRole('textbox', { name: /^Family/ });
  await user.keyboard('{Escape}');
  await dialogGone();
  await user.click(screen.getByRole('button', { name: 'Choose none' }));
  expect(screen.queryByRole('button', { name: 'Put in a family' })).toBeNull();
});

it('opens what can be done with the selected page by key', async () => {
  const user = await open('/');
  await user.keyboard('.');
  const items = (await screen.findAllByRole('menuitem')).map((one) => one.textContent);
  expect(items).toEqual([
    'MeasureM',
    'Make fold CSS',
    'More important',
    'Less important',
    'Put in a family',
    'Rename',
    'Delete',
  ]);
  await user.keyboard('{Escape}');
  await eventually(() => expect(screen.queryByRole('menu')).toBeNull());
});

it('says of a page what runs for it, not what waits behind that', async () => {
  const db = await database();
  const page = (await listPages(db)).at(-1)!;
  const both = [
    await addJob(db, 'fold', page.id, 'slow-phone'),
    await addJob(db, 'trial', page.id, 'slow-phone'),
  ];
  await reportProgress(db, (await claimJob(db))!.id, 'Looking at the fold', 1, 3);
  await open('/');
  await eventually(() => expect(rowOf(page.name).textContent).toContain('Looking at the fold'));
  for (const one of both) await endJob(db, one, 'cancelled', '');
});

it('sorts by what a head says, both ways, and shows only what is asked for', async () => {
  const user = await open('/');
  const head = screen.getByRole('button', { name: 'Page' });
  await user.click(head);
  const rising = [...(await names())].sort((a, b) => a.localeCompare(b));
  expect(shown()).toEqual(rising);
  expect(head.closest('[role=columnheader]')!.getAttribute('aria-sort')).toBe('ascending');
  await user.click(head);
  expect(shown()).toEqual(rising.toReversed());

  await user.selectOptions(screen.getByRole('combobox', { name: 'Show a family' }), 'news');
  expect(shown()).toHaveLength(3);
  expect(screen.getByRole('button', { name: 'Measure these 3' })).toBeTruthy();
  await put(user, screen.getByRole('textbox', { name: 'Show pages by name' }), 'nothing like it');
  expect(screen.getByText('No page is called that.')).toBeTruthy();
  await user.click(screen.getByRole('button', { name: 'show all' }));
  expect(shown()).toEqual(await names());
});

it('is worked by keys: down, up, measure, open', async () => {
  const user = await open('/');
  const chosen = () =>
    screen
      .getAllByRole('row')
      .find((row) => row.getAttribute('aria-selected') === 'true')!
      .querySelector('a')!.textContent;
  const [first, second] = await names();
  expect(chosen()).toBe(first);
  await user.keyboard('jjk');
  expect(chosen()).toBe(second);
  await user.keyboard('m');
  await eventually(async () => {
    const job = (await listJobs(await database())).find((one) => one.state === 'waiting');
    expect([job?.kind, job?.pageName]).toEqual(['measure', second]);
  });
  expect(await screen.findByRole('button', { name: '1 waiting' })).toBeTruthy();
  await user.keyboard('k{Enter}');
  expect(placeNow()).toBe('/pages/1/map?conditions=slow-phone');
  expect(await sentence()).toMatch(/^First paint took [\d,]+ ms/);
});

it('queues work for the pages shown, most important first; the queue can be reordered and emptied', async () => {
  const user = await open('/');
  for (const job of await listJobs(await database()))
    await fetch(`/api/jobs/${job.id}`, { method: 'DELETE' });
  await user.selectOptions(screen.getByRole('combobox', { name: 'Show a family' }), 'news');
  await user.click(screen.getByRole('button', { name: 'Fold CSS for these 3' }));
  const waiting = async () =>
    (await listJobs(await database())).filter((job) => job.state === 'waiting').map((job) => job.pageName);
  await eventually(async () => expect(await waiting()).toHaveLength(3));
  const before = await waiting();
  await user.click(await screen.findByRole('button', { name: '3 waiting' }));
  await user.click(await screen.findByRole('button', { name: `Move ${before[2]} up` }));
  await eventually(async () => expect(await waiting()).toEqual([before[0], before[2], before[1]]));
  for (let left = 2; left >= 0; left--) {
    const takeOut = () => screen.getAllByRole('button', { name: 'take out' });
    await eventually(() => expect(takeOut()).toHaveLength(left + 1));
    await user.click(takeOut()[0]!);
    await eventually(async () => expect(await waiting()).toHaveLength(left));
  }
  await eventually(() => expect(screen.queryByRole('button', { name: /waiting$/ })).toBeNull());
});

it('says how long it will take to measure all that is shown, once that is known', async () => {
  const db = await database();
  await db.query('DELETE FROM job');
  await open('/');
  expect(screen.queryByText(/^about \d/)).toBeNull();
  await db.query(
    `INSERT INTO job (kind, page_id, conditions_id, rank, state, started_at, ended_at)
     SELECT 'measure', min(id), 'slow-phone', 0, 'done', now() - interval '80 seconds', now() FROM page`,
  );
  cleanup();
  const user = await open('/');
  expect(await screen.findByText('about 12 min')).toBeTruthy();
  await user.selectOptions(screen.getByRole('combobox', { name: 'Show a family' }), 'news');
  expect(await screen.findByText('about 4 min')).toBeTruthy();
});

it('adds a page by its address, and keeps what was typed when the address is none', async () => {
  const user = await open('/');
  await user.keyboard('a');
  const field = await screen.findByRole('textbox', { name: 'Address' });
  await user.type(field, 'quay.test');
  await user.click(screen.getByRole('button', { name: 'Add' }));
  expect(await screen.findByText(/“quay\.test” is not a full address\. Write it like/)).toBeTruthy();
  expect((field as HTMLInputElement).value).toBe('quay.test');
  await user.clear(field);
  await put(user, field, 'http://127.0.0.1:3999/slipway');
  await user.type(screen.getByRole('textbox', { name: 'Name (optional)' }), 'Slipway');
  await user.click(screen.getByRole('button', { name: 'Add' }));
  await dialogGone();
  await eventually(() => expect(shown()).toContain('Slipway'));
});

it('adds a list of addresses, all or none', async () => {
  const user = await open('/');
  const before = await names();
  await user.click(screen.getByRole('button', { name: 'Add pages' }));
  await user.click(await screen.findByRole('tab', { name: 'A list' }));
  const field = screen.getByRole('textbox', { name: 'Addresses, one a line' });
  await put(user, field, 'http://127.0.0.1:3999/pier\nnot an address');
  await user.click(screen.getByRole('button', { name: 'Add 2 pages' }));
  expect(await screen.findByText(/^“not an address” is not a full address/)).toBeTruthy();
  expect(await names()).toEqual(before);
  await user.clear(field);
  await put(user, field, 'http://127.0.0.1:3999/pier\nhttp://127.0.0.1:3999/jetty');
  await user.click(screen.getByRole('button', { name: 'Add 2 pages' }));
  await dialogGone();
  expect(await names()).toHaveLength(before.length + 2);
});

it('renames, moves, puts into a family and deletes a page, which can be taken back', async () => {
  const user = await open('/');
  await does(user, 'Slipway', 'Rename');
  const field = await screen.findByRole('textbox', { name: 'Name' });
  await user.clear(field);
  await user.click(screen.getByRole('button', { name: 'Rename' }));
  expect(await screen.findByText('Give a name.')).toBeTruthy();
  await user.type(field, 'Dry dock');
  await user.click(screen.getByRole('button', { name: 'Rename' }));
  await dialogGone();
  await eventually(() => expect(shown()).toContain('Dry dock'));

  await does(user, 'Dry dock', 'Put in a family');
  await user.type(await screen.findByRole('textbox', { name: /^Family/ }), 'docks');
  await user.click(screen.getByRole('button', { name: 'Save' }));
  await dialogGone();
  await eventually(() => expect(rowOf('Dry dock').querySelector('.family')!.textContent).toBe('docks'));

  // Deleted it is gone from the list at once; until it is no longer taken back, nothing is deleted.
  const stored = async () => (await listPages(await database())).map((one) => one.name);
  await does(user, 'Dry dock', 'Delete');
  expect(
    await screen.findByText('Dry dock is deleted, with captures, measurements, fold CSS, plan and trials.'),
  ).toBeTruthy();
  expect(shown()).not.toContain('Dry dock');
  expect(await stored()).toContain('Dry dock');
  // The way back has the focus.
  await user.keyboard('{Enter}');
  await eventually(() => expect(shown()).toContain('Dry dock'));
  await does(user, 'Dry dock', 'Delete');
  // Who leaves has decided.
  window.dispatchEvent(new Event('pagehide'));
  await eventually(async () => expect(await stored()).not.toContain('Dry dock'));
  expect(await names()).not.toContain('Dry dock');
});

it('finds a stage by name from anywhere', async () => {
  const user = await open('/');
  await user.keyboard('{Control>}k{/Control}');
  const field = await screen.findByRole('textbox', { name: 'Find' });
  await user.type(field, 'zz');
  expect(screen.getByText('Nothing of that name.')).toBeTruthy();
  await user.clear(field);
  await user.type(field, 'home prove');
  expect(screen.getAllByRole('option').map((one) => one.textContent)).toEqual([
    'Skerravane Ferries / Home / Prove',
  ]);
  await user.keyboard('{Enter}');
  expect(placeNow()).toBe('/pages/1/prove?conditions=slow-phone');
});

it('backs up what is stored, cancelled or to its end, and says what to do where it cannot', async () => {
  const user = await open('/');
  const saved: { name: string; size: number }[] = [];
  let size = 0;
  URL.createObjectURL = (blob) => ((size = (blob as Blob).size), 'blob:backup');
  URL.revokeObjectURL = () => undefined;
  HTMLAnchorElement.prototype.click = function () {
    saved.push({ name: this.download, size });
  };
  const backUp = async () => {
    await user.keyboard('{Control>}k{/Control}');
    await user.type(await screen.findByRole('textbox', { name: 'Find' }), 'back up');
    await user.keyboard('{Enter}');
  };
  // Copying takes as long as it takes to press Cancel.
  let copied!: () => void;
  const copying = vi.spyOn(await database(), 'copyTo');
  copying.mockImplementationOnce(() => new Promise((resolve) => (copied = resolve)));
  await backUp();
  expect((await screen.findByRole('status')).textContent).toMatch(/^All that is stored, as it is now: /);
  await user.click(screen.getByRole('button', { name: 'Cancel' }));
  await dialogGone();
  copied();
  expect(saved).toEqual([]);

  await backUp();
  const slowly = { timeout: 60_000 };
  const written = /^wistrel-backup-[\d-]+\.tgz, [\d.]+ MB, was given to your browser to keep\./;
  expect(await screen.findByText(written, {}, slowly)).toBeTruthy();
  expect(saved).toEqual([{ name: expect.stringMatching(/^wistrel-backup-[\d-]+\.tgz$/), size }]);
  expect(size).toBeGreaterThan(1_000_000);
  await user.click(screen.getByRole('button', { name: 'Close' }));
  await dialogGone();

  copying.mockRejectedValueOnce(new Error('no space left on device'));
  await backUp();
  expect((await screen.findByRole('alert', {}, slowly)).textContent).toMatch(
    /could not be copied: no space left on device\. Nothing stored was changed\..*\.\/wistrel backup FILE\.$/,
  );
  await user.click(screen.getByRole('button', { name: 'Close' }));
  await dialogGone();
});

it('without any site says what to do', async () => {
  const user = await open('/');
  const { length } = await listSites(await database());
  for (let left = length - 1; left >= 0; left--) {
    const site = (await listSites(await database()))[0]!;
    await does(user, site.name, 'Delete');
    window.dispatchEvent(new Event('pagehide'));
    await eventually(async () => expect(await listSites(await database())).toHaveLength(left));
  }
  expect((await screen.findAllByRole('heading')).map((one) => one.textContent)).toEqual(['No pages yet.']);
  // There is nothing to measure: the one thing to do is offered, and leads on.
  expect(screen.queryByRole('button', { name: 'Measure all' })).toBeNull();
  await user.click(screen.getByRole('button', { name: 'Add pages' }));
  await user.type(await screen.findByRole('textbox', { name: 'Address' }), 'http://127.0.0.1:3999/');
  await user.click(screen.getByRole('button', { name: 'Add' }));
  await dialogGone();
  expect(await screen.findByRole('button', { name: 'Measure all' })).toBeTruthy();
});
