import { rmSync } from 'node:fs';
import { join } from 'node:path';
// @vitest-environment jsdom
import { screen, within } from '@testing-library/react';
import { expect, it, vi } from 'vitest';
import { METRICS } from '@/core/measure/metrics';
import { fieldFiguresOf } from '@/store/field-figures';
import { ownConditions } from '@/store/conditions';
import { addJob, claimJob, endJob, listJobs } from '@/store/jobs';
import { measurementsOf } from '@/store/measurements';
import { secretsOf, settingsOf } from '@/store/settings';
import { acceptedCertificates, findPage, listPages } from '@/store/sites';
import type { Work } from '@/usecases/jobs/kind';
import { measure } from '@/usecases/jobs/measure';
import { dialogGone, eventually, open, put, rowsOf, sentence, show, withDemo } from './application';
import { goTo, placeNow } from './navigation';

vi.mock('next/navigation', () => import('./navigation'));
const { database } = withDemo();
const MEASURE = '/pages/1/measure?conditions=slow-phone';

const table = (head: RegExp) =>
  screen
    .getAllByRole('table')
    .map(rowsOf)
    .find((rows) => head.test(rows[0]!))!;

it('says first paint first, then every metric with its spread and each run’s own', async () => {
  await open(MEASURE);
  const said = /^First paint after ([\d,]+) ms, Speed Index [\d,]+ ms\.$/.exec(await sentence())!;
  const rows = table(/^Metric \| Median of 3 \| Min–max/);
  const paint = rows.find((row) => row.startsWith('First paint |'))!.split(' | ');
  expect(paint[1]).toBe(`${said[1]} ms`);
  const [least, most] = paint[2]!.split('–');
  const first = rows[0]!.split(' | ').indexOf('Run 1');
  const runs = paint.slice(first, first + 3).map((one) => Number(one.replace(',', '')));
  expect(
    runs.every((run) => run >= Number(least!.replace(',', '')) && run <= Number(most!.replace(',', ''))),
  ).toBe(true);
  expect(rows[0]).toContain('(shown)');
  expect(rows.slice(1).map((row) => row.split(' | ')[0])).toEqual(METRICS.map((metric) => metric.label));
});

it('lists what is kept, and deletes one only when nothing runs for its site', async () => {
  const db = await database();
  const user = await open(MEASURE);
  await user.click(screen.getByText(/^1 measurement kept, [\d.,]+ .?B: each until you delete it$/));
  const job = await addJob(db, 'fold', (await listPages(db)).at(-1)!.id, 'slow-phone');
  await claimJob(db);
  await user.click(screen.getByRole('button', { name: /^Delete the measurement of/ }));
  expect(screen.getByText(/^0 measurements kept/)).toBeTruthy();
  window.dispatchEvent(new Event('pagehide'));
  expect((await screen.findByText(/^Something runs for this site/)).textContent).toContain(
    'Nothing was deleted.',
  );
  expect(await measurementsOf(db, 1, 'slow-phone')).toHaveLength(1);
  // What could not be deleted is there again.
  await screen.findByText(/^1 measurement kept/);
  await endJob(db, job, 'cancelled', null);
});

it('steps through the frames by keys, by change or by a time', async () => {
  const user = await open(MEASURE);
  const at = () => document.querySelector('figcaption')?.textContent;
  await user.keyboard('{ArrowRight}');
  expect(at()).toMatch(/^[\d,]+ ms, \d+ % complete$/);
  const first = at();
  await user.keyboard('{ArrowRight}{ArrowRight}');
  expect(at()).not.toBe(first);
  await user.keyboard('{ArrowLeft}{ArrowLeft}{ArrowLeft}');
  expect(at()).toBe(first);
  const step = screen.getByRole('textbox', { name: 'Step in milliseconds' });
  await user.type(step, '250x');
  expect(step).toHaveProperty('value', '250');
  step.blur();
  await user.keyboard('{ArrowRight}');
  const before = Number(/^[\d,]+/.exec(at()!)![0].replace(',', ''));
  await user.keyboard('{ArrowRight}');
  expect(Number(/^[\d,]+/.exec(at()!)![0].replace(',', '')) - before).toBe(250);
});

it('says in four steps which parts of the page came late, over a picture of it', async () => {
  await open(MEASURE);
  const steps = within(screen.getByRole('list', { name: 'When parts became final' })).getAllByRole(
    'listitem',
  );
  const told = steps.map((one) => /^by ([\d,]+) ms (\d+) %$/.exec(one.textContent)!.slice(1));
  const times = told.map(([at]) => Number(at!.replace(',', '')));
  expect(times).toHaveLength(4);
  expect(times).toEqual([...times].sort((a, b) => a - b));
  expect(Math.abs(told.reduce((sum, [, share]) => sum + Number(share), 0) - 100)).toBeLessThanOrEqual(2);
  const picture = screen.getByRole('img', { name: /^Parts of the viewport became final between/ });
  expect(picture.querySelector('image')!.getAttribute('opacity')).toBeNull();
  expect(picture.querySelectorAll('rect > title').length).toBeGreaterThan(20);
});

it('says how far to trust the figures, and what the largest paint waited for', async () => {
  await open(MEASURE);
  const side = within(screen.getByRole('complementary', { name: 'Behind the figures' }));
  expect(side.getByText('How far to trust them')).toBeTruthy();
  expect(side.getByText(/^Largest contentful paint:/)).toBeTruthy();
  expect(side.getByText('Fonts that paint')).toBeTruthy();
});

it('keeps how a page is measured; secrets are shown by name only, and can be cleared', async () => {
  const user = await open(MEASURE);
  const how = async () => {
    await user.click(screen.getByRole('button', { name: 'How it is measured' }));
    return within(await screen.findByRole('dialog'));
  };
  let dialog = await how();
  const runs = await dialog.findByRole('textbox', { name: 'Runs' });
  await user.clear(runs);
  await user.type(runs, '0');
  await user.click(dialog.getByRole('button', { name: 'Save' }));
  expect((await dialog.findByRole('alert')).textContent).toBe('At least one run.');
  await user.clear(runs);
  await user.type(runs, '5');
  await put(user, dialog.getByRole('textbox', { name: /^Steps before the capture/ }), 'fly to the moon');
  await user.click(dialog.getByRole('button', { name: 'Save' }));
  expect((await dialog.findByRole('alert')).textContent).toContain('fly to the moon');
  await user.clear(dialog.getByRole('textbox', { name: /^Steps before the capture/ }));
  await put(user, dialog.getByRole('textbox', { name: /^Headers, for/ }), 'X-Berth: 7');
  await put(user, dialog.getByRole('textbox', { name: /^Cookies to be/ }), 'session=tide; tab=2');
  await user.click(dialog.getByRole('button', { name: 'Save' }));
  await dialogGone();
  expect(await settingsOf(await database(), 1)).toMatchObject({ runs: 5, steps: '' });
  expect(await secretsOf(await database(), 1)).toMatchObject({
    headers: [['X-Berth', '7']],
    cookies: [
      { name: 'session', value: 'tide' },
      { name: 'tab', value: '2' },
    ],
  });

  dialog = await how();
  expect((await dialog.findByText(/^Signed in with/)).textContent).toBe(
    'Signed in with X-Berth (●●●●), session (●●●●), tab (●●●●)',
  );
  expect(document.body.innerHTML).not.toContain('tide');
  expect(dialog.queryByRole('alert')).toBeNull();
  await user.click(dialog.getByRole('button', { name: 'Cancel' }));
  await dialogGone();

  // Put back on another machine, where its keys are not.
  rmSync(join(process.env['WISTREL_DATA']!, 'keys'), { recursive: true });
  dialog = await how();
  expect((await dialog.findByRole('alert')).textContent).toMatch(
    /cannot be read here: its keys are not in a backup\. Give it again, or save without it/,
  );
  const measuring = { database: await database(), job: { pageId: 1, input: null } } as unknown as Work;
  await expect(measure.run(measuring)).rejects.toThrow(/Give it again under “How it is measured”/);
  await user.click(dialog.getByRole('button', { name: 'Save' }));
  await dialogGone();
  expect(await secretsOf(await database(), 1)).toMatchObject({ headers: [], cookies: [] });
});

it('takes visitors’ figures from a file, says what it left out, and forgets them again', async () => {
  const user = await open(MEASURE);
  const { url } = (await findPage(await database(), 1))!;
  await user.click(screen.getByRole('button', { name: 'Visitors’ figures' }));
  const dialog = within(await screen.findByRole('dialog'));
  const input = dialog.getByLabelText('File of visitors’ figures');
  const file = (text: string) => new File([text], 'visitors.csv', { type: 'text/csv' });
  await user.upload(input, file('quay,berth\n1,2'));
  await user.click(dialog.getByRole('button', { name: 'Take the figures' }));
  expect((await dialog.findByRole('alert')).textContent).toMatch(/first line/);
  const head = 'url,metric,percentile,value,device';
  await user.upload(
    input,
    file(
      `${head}\n${url},First paint,75,2100,phone\n${url},First paint,95,4100,phone\n${url},no metric,75,1,phone\n`,
    ),
  );
  await user.click(dialog.getByRole('button', { name: 'Take the figures' }));
  expect((await dialog.findByRole('status')).textContent).toMatch(
    /^2 figures of 1 page were taken\. 1 was left out:.*no metric/,
  );
  await user.click(dialog.getByRole('button', { name: 'Close' }));
  await dialogGone();
  expect((await fieldFiguresOf(await database(), url)).map((one) => one.value).sort()).toContain(2100);
  expect(await screen.findByText('Visitors’ percentiles on it')).toBeTruthy();

  await user.click(screen.getByRole('button', { name: 'Visitors’ figures' }));
  await user.click(await screen.findByRole('button', { name: 'Forget this page’s' }));
  await dialogGone();
  expect(await fieldFiguresOf(await database(), url)).toEqual([]);
  await eventually(() => expect(screen.queryByText('Visitors’ percentiles on it')).toBeNull());
});

it('copies conditions, refuses what cannot be, measures under the copy, and deletes it', async () => {
  const user = await open(MEASURE);
  const chosen = () => screen.getByRole('button', { name: /CPU at/ });
  await user.click(chosen());
  await user.click(await screen.findByRole('menuitem', { name: 'Copy Slow phone and change the copy' }));
  const dialog = within(await screen.findByRole('dialog'));
  const name = dialog.getByRole('textbox', { name: 'Name' });
  expect(name).toHaveProperty('value', 'Slow phone, my own');
  await user.clear(name);
  await put(user, name, 'Ferry Wi-Fi');
  const down = dialog.getByRole('textbox', { name: 'Down, kbps' });
  await user.clear(down);
  await user.type(down, '9000000');
  await user.click(dialog.getByRole('button', { name: 'Save' }));
  expect((await dialog.findByRole('alert')).textContent).toMatch(/kbps|rate/i);
  await user.clear(down);
  await user.type(down, '900');
  await user.click(dialog.getByRole('button', { name: 'Save' }));
  await dialogGone();
  expect(placeNow()).toBe('/pages/1/measure?conditions=ferry-wi-fi');
  expect(await screen.findByText('Home has not been measured under these conditions.')).toBeTruthy();
  expect(chosen().textContent).toContain('Ferry Wi-Fi');
  expect((await ownConditions(await database())).map((one) => one.downKbps)).toEqual([900]);

  await user.click(chosen());
  await user.click(await screen.findByRole('menuitem', { name: 'Edit Ferry Wi-Fi' }));
  await user.click(await screen.findByRole('button', { name: 'Delete them' }));
  await dialogGone();
  expect(await ownConditions(await database())).toEqual([]);
  expect(placeNow()).toBe('/pages/1/measure?conditions=slow-phone');
});

it('tells of work that failed why, and of a certificate of a server’s own making what can be accepted', async () => {
  const db = await database();
  const fail = (message: string, certificate: object | null) =>
    db.query(
      `UPDATE job SET state = 'failed', message = $1, certificate = $2::jsonb WHERE id = (SELECT max(id) FROM job)`,
      [message, certificate && JSON.stringify(certificate)],
    );
  const user = await open(MEASURE);
  await user.keyboard('m');
  expect(await screen.findByRole('button', { name: 'Waiting…' })).toBeTruthy();
  await fail('The quay does not answer. Nothing stored was changed.', null);
  const alert = await screen.findByRole('alert');
  expect(alert.textContent).toContain(
    'Measuring failed. The quay does not answer. Nothing stored was changed.',
  );
  await user.click(within(alert).getByRole('button', { name: 'Put away' }));
  expect(screen.queryByRole('alert')).toBeNull();

  await user.keyboard('m');
  await eventually(async () => expect((await listJobs(db)).at(-1)!.state).toBe('waiting'));
  await fail('quay.test shows a certificate of its own making.', {
    hosts: ['quay.test', 'pier.quay.test'],
    publicKeyHash: 'x'.repeat(43) + '=',
    subject: 'quay',
    validTo: '2027-01-01',
  });
  await user.click(
    await screen.findByRole('button', { name: 'Accept it for quay.test and pier.quay.test and measure' }),
  );
  await eventually(async () => {
    const hosts = (await acceptedCertificates(db)).map((one) => one.host);
    expect(hosts).toEqual(expect.arrayContaining(['quay.test', 'pier.quay.test']));
    expect((await listJobs(db)).at(-1)!.state).toBe('waiting');
  });
});

it('shows the keys on “?”, and goes to stages by number', async () => {
  const user = await open(MEASURE);
  await user.keyboard('?');
  expect(within(await screen.findByRole('dialog')).getByText('find a page or stage')).toBeTruthy();
  await user.keyboard('{Escape}');
  await dialogGone();
  await user.keyboard('2');
  expect(placeNow()).toBe('/pages/1/map?conditions=slow-phone');
  goTo(MEASURE);
  const stages = within(screen.getByRole('navigation', { name: 'Stages' }));
  await eventually(() =>
    expect(stages.getByRole('link', { current: 'page' }).textContent).toMatch(/^Measure1/),
  );
});

it('in the application’s absence says what to do, and that nothing is lost', async () => {
  const working = globalThis.fetch;
  globalThis.fetch = () => Promise.reject(new TypeError('refused'));
  try {
    show('/pages/1/measure?conditions=home-laptop');
    const alert = await screen.findByRole('alert');
    expect(alert.textContent).toContain('Start it again with ./wistrel start; what was stored is kept.');
  } finally {
    globalThis.fetch = working;
  }
});

it('shows what a page without measurements shows once the last one is deleted', async () => {
  const user = await open(MEASURE);
  await user.click(screen.getByText(/measurements? kept/));
  for (let left = (await measurementsOf(await database(), 1, 'slow-phone')).length; left > 0; left--) {
    await user.click(screen.getAllByRole('button', { name: /^Delete the measurement of/ })[0]!);
    window.dispatchEvent(new Event('pagehide'));
    await eventually(async () =>
      expect(await measurementsOf(await database(), 1, 'slow-phone')).toHaveLength(left - 1),
    );
  }
  expect(await screen.findByText('Home has not been measured under these conditions.')).toBeTruthy();
});
