import { readFileSync } from 'node:fs';
import { AS_RECORDED } from '../src/core/rehearse/arrival.ts';
import { NOTHING } from '../src/core/checks/deed.ts';
import { CapturedPage } from '../src/core/page/captured-page.ts';
import { Beside, type Arm, type Setting } from '../src/engine/rehearse/beside.ts';
import { deedSettings, PHONE } from '../src/engine/rehearse/settings.ts';
import { StagePool } from '../src/engine/rehearse/stage-pool.ts';
import { FAULTS, type Fault } from './faults.ts';
import { busyPage } from './busy-page.ts';
import { benchPages, type BenchPage } from './pages.ts';
import type { Finding } from './report.ts';

/** So often each page is held against itself. */
const ITSELF = 7;

interface Page {
  beside: Beside;
  authored: Arm;
  html: string;
  /** What is served beside it in every arm. */
  files: Arm['overrides'];
  /** Its sheets, as they apply. */
  css: string;
  /** All code of the page. */
  code: string;
  documentUrl: string;
  settings: readonly Setting[];
}

/** Faults put into pages on purpose, each page held against itself as authored: which are noticed, and what is seen where nothing is. */
export async function checksBench(): Promise<Finding> {
  const tally = new Map<string, { put: number; missed: string[] }>();
  const itself = { held: 0, different: [] as string[] };
  const pool = await StagePool.open();
  for (const page of [busyPage(), ...benchPages()]) {
    const opened = await open(page, pool);
    for (const fault of FAULTS) {
      const arm = armWith(opened, fault);
      if (!arm) continue;
      const noticed = await firstDifference(opened, arm);
      console.log(`${page.name} | ${fault.kind} | ${noticed ?? 'NOT NOTICED'}`);
      const known = tally.get(fault.kind) ?? { put: 0, missed: [] };
      known.put++;
      if (!noticed) known.missed.push(page.name);
      tally.set(fault.kind, known);
    }
    for (let time = 0; time < ITSELF; time++) {
      const seen = await firstDifference(opened, opened.authored);
      itself.held++;
      if (seen) itself.different.push(`${page.name}: ${seen}`);
    }
  }
  await pool.close();
  const put = [...tally.values()].reduce((sum, one) => sum + one.put, 0);
  const missed = [...tally.values()].reduce((sum, one) => sum + one.missed.length, 0);
  return {
    title: 'Faults noticed',
    about: `Faults put into a made page, the demo home and four templates, one at a time, at a phone’s viewport, unslowed. To reach: 95 % of all noticed and 80 % of each kind; of pages held against themselves none called different.`,
    columns: ['fault', 'put in', 'noticed', 'not noticed in'],
    rows: [
      ...[...tally].map(([kind, one]) => [kind, one.put, one.put - one.missed.length, one.missed.join(', ')]),
      ['all', put, `${put - missed} (${Math.round((100 * (put - missed)) / put)} %)`, ''],
      [
        'none: the page itself',
        itself.held,
        `${itself.different.length} called different`,
        itself.different.join('; '),
      ],
    ],
  };
}

/** The framework that the templates take from another host, which no capture of a folder holds. */
const FRAMEWORK = 'bootstrap.bundle.min.js';

async function open({ capture, bodies }: BenchPage, pool: StagePool): Promise<Page> {
  const page = { capture, bodies, state: null };
  const { documentUrl } = capture;
  const authoredHtml = new CapturedPage(capture, bodies).text(documentUrl)!;
  const html = authoredHtml.replace(new RegExp(`src="https:[^"]+/${FRAMEWORK}"`), `src="/${FRAMEWORK}"`);
  const files: Arm['overrides'] = [
    {
      url: new URL(`/${FRAMEWORK}`, documentUrl).href,
      mimeType: 'text/javascript',
      body: readFileSync(`node_modules/bootstrap/dist/js/${FRAMEWORK}`),
      isNew: true,
    },
  ];
  const scripts = [html, readFileSync(`node_modules/bootstrap/dist/js/${FRAMEWORK}`, 'utf8')];
  const captured = new CapturedPage(capture, bodies);
  const sheets = captured.styles.flatMap(({ url }) => (url && captured.text(url)) ?? []);
  for (const { kind, url } of capture.exchanges)
    if (kind === 'script') scripts.push(captured.text(url) ?? '');
  const authored = { overrides: [documentOf(documentUrl, html), ...files], takesOut: [] };
  const atRest: Setting = { device: PHONE.device, order: AS_RECORDED, deed: NOTHING, words: 'at rest' };
  const deeds = await deedSettings(pool, page, authored, [PHONE]);
  return {
    beside: new Beside(page, pool, authored, [atRest]),
    authored,
    html,
    files,
    code: scripts.join('\n'),
    css: sheets.join('\n'),
    documentUrl,
    settings: [atRest, ...deeds],
  };
}

function armWith({ html, css, files, code, documentUrl }: Page, { into, needs }: Fault): Arm | null {
  if (needs && !needs.test(code)) return null;
  const broken = into(html, css);
  return broken === null ? null : { overrides: [documentOf(documentUrl, broken), ...files], takesOut: [] };
}

function documentOf(url: string, html: string): Arm['overrides'][number] {
  return { url, mimeType: 'text/html', body: new TextEncoder().encode(html), isNew: false };
}

/** The first thing that is noticed, and at what; what is undecided is not noticed. */
async function firstDifference({ beside, settings }: Page, arm: Arm): Promise<string | null> {
  const waiting = [...settings];
  const found = new Map<Setting, string>();
  const goOn = async () => {
    for (let setting = waiting.shift(); setting && found.size === 0; setting = waiting.shift()) {
      const [first] = await beside.differences(arm, setting);
      if (first) found.set(setting, `${first.words} (${setting.words})`);
    }
  };
  await Promise.all([goOn(), goOn(), goOn()]);
  return settings.flatMap((one) => found.get(one) ?? [])[0] ?? null;
}
