import { spawnSync } from 'node:child_process';
import { request } from 'node:http';
import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, it, onTestFinished } from 'vitest';
import type { Job } from '../../src/store/jobs.ts';
import { startWistrel, type RunningDemo } from './application.ts';
import { alive, commandLine, descendants } from './processes.ts';

const jobsOf = async (demo: RunningDemo) => (await (await demo.ask(`/api/jobs`)).json()) as Job[];
const startJob = (demo: RunningDemo, pageId: number) =>
  demo.ask(`/api/jobs`, {
    method: 'POST',
    body: JSON.stringify({ kind: 'measure', pageId, conditionsId: 'home-laptop' }),
  });

/** Beside the demos of other files, where the seed's results are not asked for. */
const besideOthers = () => {
  process.env['WISTREL_DEMO_PORT'] = '9543';
  onTestFinished(() => {
    Reflect.deleteProperty(process.env, 'WISTREL_DEMO_PORT');
  });
};

// What is asserted here is no time: a busy machine may take long over a page.
process.env['WISTREL_LOAD_LIMIT_MS'] = '60000';

it('ends with the process that was called, however that ends, and leaves its port and folder to the next', async () => {
  besideOthers();
  const data = mkdtempSync(join(tmpdir(), 'wistrel-orphan-'));
  const demo = await startWistrel('demo', data);
  const below = descendants(demo.process.pid!);
  expect(below.some((pid) => /next/.test(commandLine(pid)))).toBe(true);
  const ended = new Promise((resolve) => demo.process.once('exit', resolve));
  process.kill(demo.process.pid!, 'SIGKILL');
  await ended;
  await expect.poll(() => below.filter(alive), { timeout: 15_000 }).toEqual([]);
  const again = await startWistrel('start', data);
  await again.stop();
});

it('says so at once when the replay process or Chromium is killed in the middle, and measures the next page', async () => {
  besideOthers();
  const demo = await startWistrel('demo');
  const newest = async () => (await jobsOf(demo)).reduce((a, b) => (b.id > a.id ? b : a));
  const killOnce = async (what: RegExp, said: RegExp) => {
    await startJob(demo, 1);
    await expect.poll(async () => (await newest()).step ?? '', { timeout: 90_000 }).toMatch(/Run 1/);
    // The page is to be on its way: before that, the browser puts another renderer in a killed one's place.
    await new Promise((resolve) => setTimeout(resolve, 2_500));
    const victims = descendants(demo.process.pid!).filter((pid) => what.test(commandLine(pid)));
    expect(victims.length).toBeGreaterThan(0);
    for (const pid of victims) if (alive(pid)) process.kill(pid, 'SIGKILL');
    await expect.poll(async () => (await newest()).state, { timeout: 15_000 }).toBe('failed');
    expect((await newest()).message).toMatch(said);
    expect((await newest()).message).toContain('try again');
  };
  try {
    await killOnce(/replay-process/, /ended/);
    await killOnce(/chromium.*--type=renderer/, /Chromium, or a page in it, ended/);
    await killOnce(/chromium.*--headless(?!.*--type=)/, /Chromium, or a page in it, ended/);
    await startJob(demo, 1);
    await expect.poll(async () => (await newest()).state, { timeout: 120_000 }).toBe('done');
    const leftOver = descendants(demo.process.pid!).filter((pid) =>
      /replay-process|chromium/.test(commandLine(pid)),
    );
    await expect.poll(() => leftOver.filter(alive), { timeout: 10_000 }).toEqual([]);
  } finally {
    await demo.stop();
  }
});

it('killed in the middle of measuring, it starts again with all that was stored, and leaves no process behind', async () => {
  const data = mkdtempSync(join(tmpdir(), 'wistrel-killed-'));
  const demo = await startWistrel('demo', data);
  onTestFinished(() => demo.stop());
  await startJob(demo, 1);
  await expect
    .poll(async () => (await jobsOf(demo)).find((job) => job.kind === 'measure')?.step ?? '', {
      timeout: 180_000,
    })
    .toMatch(/timings/);
  const below = descendants(demo.process.pid!);
  expect(below.length).toBeGreaterThan(3);
  const ended = new Promise((resolve) => demo.process.once('exit', resolve));
  // The one that was called and the application: everything that measures has to end by itself.
  const application = below.filter((pid) => /next/.test(commandLine(pid)));
  expect(application.length).toBeGreaterThan(0);
  for (const pid of [demo.process.pid!, ...application]) process.kill(pid, 'SIGKILL');
  await ended;
  await expect.poll(() => below.filter(alive), { timeout: 15_000 }).toEqual([]);

  const again = await startWistrel('start', data);
  try {
    const measuring = async () => (await jobsOf(again)).find((one) => one.kind === 'measure')!;
    // Told by the clock: nobody has said for some seconds that it still runs.
    await expect.poll(async () => (await measuring()).state, { timeout: 20_000 }).toBe('interrupted');
    const job = await measuring();
    expect(job.message).toContain('Nothing stored before was lost');
    const board = await (await again.ask(`/api/board`)).text();
    expect(board).toContain('Skerravane Ferries');
    expect(JSON.parse(board).sites[0].pages[0].paintMs).toBeGreaterThan(0);

    const second = spawnSync('./wistrel', ['start', '--port', '4999', '--data', data]);
    expect(second.status).toBe(2);
    expect(second.stderr.toString()).toMatch(
      /is held by process \d+ \(the application, since .*\)\. Choose another folder/,
    );

    const foreign = await new Promise<number>((resolve, reject) => {
      const { port } = new URL(again.url);
      request({ host: '127.0.0.1', port, path: '/api/board', headers: { host: 'quay.test' } }, (response) =>
        resolve(response.statusCode ?? 0),
      )
        .on('error', reject)
        .end();
    });
    expect(foreign).toBe(403);
  } finally {
    await again.stop();
  }
});
