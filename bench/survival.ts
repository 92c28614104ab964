import { existsSync, mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { PGlite } from '@electric-sql/pglite';
import { DATABASE_FOLDER, migrate, type Queries, type Seals } from '../src/store/database.ts';
import type { Job } from '../src/store/jobs.ts';
import { startWistrel, type RunningDemo } from '../tests/e2e/application.ts';
import { alive, commandLine, descendants } from '../tests/e2e/processes.ts';
import { startQuaySite, type QuaySite } from '../tests/e2e/quay-site.ts';
import type { Finding } from './report.ts';

const KILLS = Number(process.env['WISTREL_KILLS'] ?? 50);
const UNDER = 'home-laptop';
/** Below this nothing that was begun is still at work on its own behalf, ms. */
const GONE_WITHIN_MS = 15_000;
/** A job that nobody carries on is told as broken off within this, ms. */
const TOLD_WITHIN_MS = 40_000;

/** What is being done when something is killed, and how long it takes, ms. */
const WORK = {
  measuring: { job: 'measure', takesMs: 14_000 },
  folding: { job: 'fold', takesMs: 9_000 },
  trying: { job: 'trial', takesMs: 40_000 },
  storing: { job: 'measure', takesMs: 2_000 },
  writing: { job: null, takesMs: 1_500 },
  migrating: { job: null, takesMs: 3_000 },
} as const;
type Doing = keyof typeof WORK;

const VICTIMS = {
  application: /next/,
  'measuring process': /job-process/,
  Chromium: /chromium.*--headless(?!.*--type=)/,
} as const;
type Victim = keyof typeof VICTIMS;

/** What a kill cost, each in words. */
interface Found {
  lost: string[];
  left: string[];
}

/** What the application said was stored: it has to be there ever after. */
interface Acknowledged {
  pages: Set<string>;
  done: Set<number>;
  newest: number;
}

/** Kills what works at random moments, starts again, and looks for what was lost and what is left over. */
export async function survivalBench(): Promise<Finding> {
  process.env['WISTREL_PAIRS'] = '6';
  process.env['WISTREL_REPEATS'] = '0';
  const site = await startQuaySite();
  const data = mkdtempSync(join(tmpdir(), 'wistrel-survival-'));
  const rows = new Map<string, Found & { kills: number }>();
  const survival = new Survival(data, site);
  try {
    await survival.begin();
    for (let kill = 0, turn = 0; kill < KILLS; turn++) {
      const doing = pick(Object.keys(WORK) as Doing[], turn);
      const victim: Victim =
        WORK[doing].job === null || doing === 'storing'
          ? 'application'
          : any(Object.keys(VICTIMS) as Victim[]);
      const found = doing === 'migrating' ? await whileMigrating() : await survival.kill(doing, victim);
      // What had ended by itself before it could be killed is no kill.
      if (found === null) continue;
      kill++;
      const row = rows.get(`${doing}: ${victim}`) ?? { kills: 0, lost: [], left: [] };
      rows.set(`${doing}: ${victim}`, row);
      row.kills++;
      row.lost.push(...found.lost);
      row.left.push(...found.left);
      for (const one of [...found.lost, ...found.left]) console.error(`${doing}, ${victim}: ${one}`);
      console.log(`${kill} of ${KILLS}: ${doing}, ${victim} killed`);
    }
    await survival.end();
  } finally {
    await survival.stop();
    await site.close();
    rmSync(data, { recursive: true, force: true });
  }
  return {
    title: 'Survival',
    about: `Killed at random moments, each followed by a start. To reach: nothing that was said to be stored is lost, every job is told as done, failed or broken off within ${TOLD_WITHIN_MS / 1000} s, and no process, port, lock or profile is left after ${GONE_WITHIN_MS / 1000} s.`,
    columns: ['while: killed', 'kills', 'lost', 'left over'],
    rows: [...rows].sort().map(([name, { kills, lost, left }]) => [name, kills, lost.length, left.length]),
  };
}

const any = <T>(of: readonly T[]): T => of[Math.floor(Math.random() * of.length)]!;
const pick = <T>(of: readonly T[], turn: number): T => of[turn % of.length]!;

class Survival {
  readonly #data: string;
  readonly #site: QuaySite;
  #application!: RunningDemo;
  #pageId = 0;
  #known: Acknowledged = { pages: new Set(), done: new Set(), newest: 0 };
  #written = 0;

  constructor(data: string, site: QuaySite) {
    this.#data = data;
    this.#site = site;
  }

  /** One page with all that the work needs. */
  async begin(): Promise<void> {
    this.#application = await startWistrel('start', this.#data);
    this.#pageId = await this.#addPage(this.#site.url('/'), 'Quay');
    const settings = { runs: 2, returnVisits: false, ownClock: true, steps: '' };
    await this.#ask(`/api/pages/${this.#pageId}/settings`, 'PUT', settings);
    for (const kind of ['measure', 'fold']) {
      await this.#start(kind);
      await this.#until(async () => (await this.#newestJob()).state === 'done', 180_000);
    }
  }

  /** After all that it still measures. */
  async end(): Promise<void> {
    await this.#start('measure');
    await this.#until(async () => (await this.#newestJob()).state === 'done', 120_000);
  }

  async stop(): Promise<void> {
    await this.#application.stop();
  }

  /** @returns what was lost and left over; null where there was nothing to kill any more */
  async kill(doing: Doing, victim: Victim): Promise<Found | null> {
    const { job, takesMs } = WORK[doing];
    if (job) {
      await this.#start(job);
      await this.#until(async () => {
        const { state, step } = await this.#newestJob();
        if (state === 'waiting') return false;
        return state !== 'running' || doing !== 'storing' || /Run 2 of/.test(step ?? '');
      }, 120_000);
      await sleep(Math.random() * takesMs);
      if (doing !== 'storing' && (await this.#newestJob()).state !== 'running') return null;
    } else await this.#writeFor(Math.random() * takesMs);
    await this.#acknowledge();
    const { process: parent, url } = this.#application;
    const below = [parent.pid!, ...descendants(parent.pid!)];
    const victims = await this.#found(victim, below);
    if (victims.length === 0) return null;
    for (const pid of victim === 'application' ? [parent.pid!, ...victims] : victims)
      if (alive(pid)) process.kill(pid, 'SIGKILL');
    const left: string[] = [];
    if (victim !== 'application') left.push(...(await this.#unfinished()));
    await this.#application.stop();
    const end = Date.now() + GONE_WITHIN_MS;
    while (below.some(alive) && Date.now() < end) await sleep(200);
    left.push(...below.filter(alive).map((pid) => `process ${pid}: ${commandLine(pid).slice(0, 120)}`));
    // Threads that write to the disk end a moment after their process.
    const port = Number(new URL(url).port);
    while (!(await isFree(port)) && Date.now() < end) await sleep(200);
    if (!(await isFree(port))) left.push(`port ${port}`);
    this.#application = await startWistrel('start', this.#data);
    left.push(...(await this.#unfinished()), ...(await profilesOfNobody()));
    return { lost: await this.#lost(), left };
  }

  /** What is to be killed, once it is there: between two browsers there is none. */
  async #found(victim: Victim, below: number[]): Promise<number[]> {
    for (const end = Date.now() + 5_000; ; await sleep(20)) {
      const all = [this.#application.process.pid!, ...descendants(this.#application.process.pid!)];
      below.splice(0, below.length, ...all);
      const found = all.filter((pid) => VICTIMS[victim].test(commandLine(pid)));
      if (found.length > 0 || Date.now() > end || (await this.#newestJob()).state !== 'running') return found;
    }
  }

  /** Adds pages one after the other until the time is up; those that were answered are known. */
  async #writeFor(ms: number): Promise<void> {
    const until = performance.now() + ms;
    while (performance.now() < until)
      await this.#addPage(this.#site.url(`/?${++this.#written}`), `Page ${this.#written}`);
    // The next one is on its way when the application is killed.
    void this.#addPage(this.#site.url(`/?${++this.#written}`), `Page ${this.#written}`).catch(
      () => undefined,
    );
  }

  async #addPage(url: string, name: string): Promise<number> {
    const { id } = (await this.#ask('/api/pages', 'POST', { url, name })) as { id: number };
    this.#known.pages.add(url);
    return id;
  }

  async #ask(path: string, method = 'GET', body?: unknown): Promise<unknown> {
    const answer = await this.#application.ask(path, {
      method,
      headers: { 'content-type': 'application/json' },
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    });
    if (!answer.ok) throw new Error(`${method} ${path} answered ${answer.status}: ${await answer.text()}`);
    return answer.json();
  }

  #start(kind: string): Promise<unknown> {
    return this.#ask('/api/jobs', 'POST', { kind, pageId: this.#pageId, conditionsId: UNDER });
  }

  async #jobs(): Promise<Job[]> {
    return (await this.#ask('/api/jobs')) as Job[];
  }

  async #newestJob(): Promise<Job> {
    return (await this.#jobs()).reduce((a, b) => (b.id > a.id ? b : a));
  }

  async #newestMeasurement(): Promise<number> {
    const view = (await this.#ask(`/api/pages/${this.#pageId}/measure?conditions=${UNDER}`)) as {
      kept: { id: number }[];
    } | null;
    return Math.max(0, ...(view?.kept ?? []).map(({ id }) => id));
  }

  async #acknowledge(): Promise<void> {
    for (const { id, state } of await this.#jobs()) if (state === 'done') this.#known.done.add(id);
    this.#known.newest = await this.#newestMeasurement();
  }

  async #lost(): Promise<string[]> {
    const { pages, done, newest } = this.#known;
    const board = JSON.stringify(await this.#ask('/api/board'));
    const jobs = await Promise.all([...done].map((id) => this.#ask(`/api/jobs/${id}`) as Promise<Job>));
    return [
      ...[...pages].filter((url) => !board.includes(JSON.stringify(url))).map((url) => `page ${url}`),
      ...jobs.filter(({ state }) => state !== 'done').map(({ id, state }) => `job ${id} is ${state}`),
      ...((await this.#newestMeasurement()) < newest ? [`measurement ${newest}`] : []),
      ...((await this.#ask(`/api/pages/${this.#pageId}/fold`)) === null ? ['fold CSS'] : []),
    ];
  }

  /** Jobs that are not told as ended though nobody carries them on. */
  async #unfinished(): Promise<string[]> {
    const open = async () => (await this.#jobs()).filter(({ state }) => state === 'running');
    const end = Date.now() + TOLD_WITHIN_MS;
    while ((await open()).length > 0 && Date.now() < end) await sleep(300);
    return (await open()).map(({ id, kind }) => `job ${id} (${kind}) runs for ever`);
  }

  async #until(is: () => Promise<boolean>, ms: number): Promise<void> {
    for (const end = Date.now() + ms; !(await is()); await sleep(200))
      if (Date.now() > end)
        throw new Error(`Not within ${ms / 1000} s: ${JSON.stringify(await this.#newestJob())}`);
  }
}

/** A database of an older version, killed while it is brought up to date, and started again. */
async function whileMigrating(): Promise<Found> {
  const data = mkdtempSync(join(tmpdir(), 'wistrel-survival-old-'));
  const pages = Array.from({ length: 200 }, (_, index) => `https://quay.test/${index}`);
  await makeOld(data, pages);
  const left: string[] = [];
  const first = startWistrel('start', data, async (pid) => {
    await sleep(Math.random() * WORK.migrating.takesMs);
    const all = [pid, ...descendants(pid)];
    for (const one of all) if (alive(one)) process.kill(one, 'SIGKILL');
    await sleep(500);
    left.push(...all.filter(alive).map((one) => `process ${one}`));
  });
  await first.then(
    (started) => started.stop(),
    () => undefined,
  );
  const again = await startWistrel('start', data);
  try {
    const board = await (await again.ask('/api/board')).text();
    return { lost: pages.filter((url) => !board.includes(JSON.stringify(url))), left };
  } finally {
    await again.stop();
    rmSync(data, { recursive: true, force: true });
  }
}

async function makeOld(data: string, pages: readonly string[]): Promise<void> {
  const pglite = await PGlite.create(join(data, DATABASE_FOLDER));
  const queriesOf = (inner: Pick<PGlite, 'query'>): Queries => ({
    query: async <T extends object>(sql: string, params: unknown[] = []) =>
      (await inner.query<T>(sql, params)).rows,
    get seals(): Seals {
      throw new Error('Nothing here is secret.');
    },
  });
  await migrate(
    {
      query: queriesOf(pglite).query,
      get seals() {
        return queriesOf(pglite).seals;
      },
      transaction: <T>(work: (queries: Queries) => Promise<T>) =>
        pglite.transaction((inner) => work(queriesOf(inner as unknown as PGlite))),
    },
    '012',
  );
  await pglite.query(`INSERT INTO site (name, origin) VALUES ('Quay', 'https://quay.test')`);
  for (const [index, url] of pages.entries())
    await pglite.query('INSERT INTO page (site_id, name, url) VALUES (1, $1, $2)', [`Page ${index}`, url]);
  await pglite.close();
}

/** Profiles of browsers whose process has ended. */
async function profilesOfNobody(): Promise<string[]> {
  const found = () =>
    readdirSync(tmpdir()).filter((name) => {
      const pid = /^wistrel-profile-(\d+)-/.exec(name)?.[1];
      return pid !== undefined && !existsSync(`/proc/${pid}`);
    });
  for (const end = Date.now() + GONE_WITHIN_MS; found().length > 0 && Date.now() < end;) await sleep(300);
  return found();
}

async function isFree(port: number): Promise<boolean> {
  const server = createServer();
  return new Promise((resolve) => {
    server.once('error', () => resolve(false));
    server.listen(port, '127.0.0.1', () => server.close(() => resolve(true)));
  });
}
