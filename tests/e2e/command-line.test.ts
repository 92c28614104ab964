import { spawn } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { makeCertificate } from '../../src/engine/chromium/certificates.ts';
import { SKERRAVANE } from '../../src/demo/site/names.ts';
import { hostNames, startDemoSite, type DemoServer } from '../../src/demo/site/server.ts';
import { serveOddPages, type TestServer } from '../engine/odd-servers.ts';
import { startQuaySite, type QuaySite } from './quay-site.ts';

const folder = mkdtempSync(join(tmpdir(), 'wistrel-cli-'));
let site: DemoServer;
let odd: TestServer;
let quay: QuaySite;

beforeAll(async () => {
  const certificate = await makeCertificate(hostNames(SKERRAVANE));
  site = await startDemoSite({ names: SKERRAVANE, certificate, httpsPort: 0, httpPort: 0 });
  odd = await serveOddPages();
  quay = await startQuaySite();
});
afterAll(async () => {
  await site.close();
  await odd.close();
  await quay.close();
});

type Run = (
  args: string[],
  env?: Record<string, string>,
) => Promise<{ code: number | null; out: string; error: string }>;

/** Runs ./wistrel as a user does; each user on a data folder and a machine of their own. */
const userOf =
  (name: string): Run =>
  (args, env = {}) =>
    new Promise((resolve) => {
      const child = spawn(
        './wistrel',
        [
          ...args,
          ...(args[0] && /^(map|fold|plan|trial|next|har)$/.test(args[0])
            ? ['--data', join(folder, name)]
            : []),
        ],
        {
          env: { ...process.env, WISTREL_MEASURING_LOCK: join(folder, `${name}.lock`), ...env },
        },
      );
      let out = '';
      let error = '';
      child.stdout.on('data', (chunk: Buffer) => (out += chunk.toString()));
      child.stderr.on('data', (chunk: Buffer) => (error += chunk.toString()));
      child.on('exit', (code) => resolve({ code, out, error }));
    });

// No test here claims a time, so they need not have the machine to themselves.
describe.concurrent('the whole path on the command line', () => {
  it('map gives metrics, assets and a bill as JSON', async ({ expect }) => {
    const wistrel = userOf('map');
    const { code, out, error } = await wistrel([
      'map',
      site.url('/'),
      '--accept-certificate',
      '--runs',
      '2',
      '--json',
      '-',
    ]);
    expect(error).toContain('Run 2 of 2');
    expect(code).toBe(0);
    const map = JSON.parse(out);
    expect(map.url).toBe(site.url('/'));
    expect(map.conditions.id).toBe('slow-phone');
    for (const key of [
      'firstPaintMs',
      'firstContentfulPaintMs',
      'largestContentfulPaintMs',
      'speedIndexMs',
      'cumulativeLayoutShift',
      'totalBlockingMs',
      'timeToFirstByteMs',
      'loadMs',
      'requests',
      'wireBytes',
    ]) {
      expect(map.metrics[key].runs).toHaveLength(2);
      expect(typeof map.metrics[key].median).toBe('number');
    }
    const framework = map.assets.find((asset: { url: string }) => asset.url.endsWith('/framework.css'));
    expect(framework).toMatchObject({
      kind: 'stylesheet',
      party: 'first',
      renderBlocking: true,
      hold: 'holds',
    });
    const bill = map.paintBill as { startMs: number; endMs: number }[];
    bill.forEach((segment, i) => expect(segment.startMs).toBe(i ? bill[i - 1]!.endMs : 0));
    expect(bill.length).toBeGreaterThan(4);
    // Of two runs the median is between them; the bill is of one of them, and of the paint that shows something.
    const told =
      map.headline === 'first paint' ? map.metrics.firstPaintMs : map.metrics.firstContentfulPaintMs;
    const off = (told.runs as number[]).map((run) => Math.abs(run - bill.at(-1)!.endMs));
    expect(Math.min(...off)).toBeLessThan(1);
    expect(map.floorMs).toBeLessThanOrEqual(told.min);
    expect(map.graph).toContainEqual(
      expect.objectContaining({
        from: expect.stringContaining('/signs.css'),
        to: expect.stringContaining('/signs-face.css'),
        kind: 'discovers',
      }),
    );
    expect(map.findings.map((one: { sentence: string }) => one.sentence).join(' ')).toContain(
      'Linked in the HTML they would load side by side',
    );
    expect(map.quality.yardstick.speed).toBeGreaterThan(0);
  });

  it('har writes the page with its bytes, and map reads it back and replays it without the site', async ({
    expect,
  }) => {
    const wistrel = userOf('har');
    const file = join(folder, 'home.har');
    const written = await wistrel([
      'har',
      site.url('/'),
      '--accept-certificate',
      '--out',
      file,
      '--conditions',
      'home-laptop',
    ]);
    expect([written.code, written.out]).toEqual([
      0,
      expect.stringContaining('cookies and authorisation redacted'),
    ]);
    expect(JSON.parse(readFileSync(file, 'utf8')).log.version).toBe('1.2');
    const read = await wistrel(['map', file, '--runs', '1', '--conditions', 'home-laptop', '--json', '-']);
    expect(read.code).toBe(0);
    const map = JSON.parse(read.out);
    expect(map.metrics.firstPaintMs.median).toBeGreaterThan(0);
    expect(map.assets.map((one: { url: string }) => one.url)).toContain(site.url('/assets/framework.css'));
  });

  it('fold makes the sets of a family by the user’s decisions, and checks a file against a page', async ({
    expect,
  }) => {
    const wistrel = userOf('family');
    const quick = ['--conditions', 'home-laptop', '--viewport', '800x600', '--json', '-'];
    const out = join(folder, 'family.css');
    const pages = ['/news/winter', '/news/ferry'].map((path) => quay.url(path));
    const decided = ['--keep', '.carousel-item', '--leave-out', 'far.css', '--out', out];
    const fold = await wistrel(['fold', ...pages, ...decided, ...quick]);
    expect(fold.code).toBe(0);
    // Nothing is timed for it.
    expect(fold.error).not.toMatch(/Run 1|how fast this machine is/);
    const family = JSON.parse(fold.out);
    expect(family.map((one: { url: string }) => one.url)).toEqual(pages);
    for (const page of family) {
      expect(page.proved).toBe(true);
      expect(page.family.choice).toBe('one set');
      expect(page.family.oneSetCompressedBytes).toBeGreaterThan(500);
      expect(page.css).toContain('.carousel-item');
      expect(page.sheets.find((one: { url: string }) => one.url.endsWith('far.css')).keptRules).toBe(0);
      expect(page.rules.some((one: { why: string }) => one.why === 'You said that it is always kept.')).toBe(
        true,
      );
    }
    expect(readFileSync(out, 'utf8')).toBe(family[0].css);

    // From a page to one that it links to: one way each says when, and nothing surely.
    const next = [
      'next',
      pages[0]!,
      quay.url('/'),
      '--conditions',
      'home-laptop',
      '--runs',
      '1',
      '--json',
      '-',
    ];
    const gone = await wistrel(next);
    expect(gone.code, gone.error).toBe(1);
    const way = JSON.parse(gone.out);
    expect(way.paint.verdict).toBe('too few runs to say');
    expect(way.pairs[0].without.paintMs).toBeGreaterThan(0);
    expect(way.pairs[0].ahead.paintMs).toBeGreaterThan(0);
    expect(way.plan.rules).toMatchObject([
      { on: true, kind: 'next', treatment: 'prefetch', match: { url: quay.url('/') } },
    ]);
    expect(way.sentence).toContain('too few ways to say');

    const small = await wistrel(['fold', pages[0]!, '--budget', '0.5', ...quick]);
    expect(small.code).toBe(1);
    const over = JSON.parse(small.out);
    expect(over.headCompressedBytes).toBeGreaterThan(512);
    expect(over.giveUps.length).toBeGreaterThan(0);

    expect((await wistrel(['fold', pages[0]!, '--check', out, ...quick])).code).toBe(0);
    const wrong = join(folder, 'wrong.css');
    writeFileSync(wrong, 'body{background:teal}');
    const checked = await wistrel(['fold', pages[0]!, '--check', wrong, ...quick]);
    expect(checked.code).toBe(1);
    const check = JSON.parse(checked.out);
    expect(check.holds).toBe(false);
    expect(check.viewports[0].differingPixelShare).toBeGreaterThan(0.1);
    const missing = await wistrel(['fold', pages[0]!, '--check', 'gone.css']);
    expect([missing.code, missing.error]).toEqual([2, expect.stringContaining('gone.css could not be read')]);
  });

  it('fold, plan and trial work one after the other', async ({ expect }) => {
    const wistrel = userOf('whole');
    const plan = join(folder, 'plan.json');
    const quick = ['--conditions', 'home-laptop'];
    const css = join(folder, 'fold.css');
    const fold = await wistrel(['fold', quay.url('/'), ...quick, '--out', css, '--json', '-']);
    expect(fold.code).toBe(0);
    const folded = JSON.parse(fold.out);
    expect(folded.css).toBe(readFileSync(css, 'utf8'));
    expect(folded.viewports.map((one: { width: number }) => one.width)).toEqual(
      expect.arrayContaining([390, 820, 1440]),
    );
    expect(folded.viewports).toHaveLength(6);
    for (const viewport of folded.viewports) {
      expect(viewport.differingPixelShare).toBeLessThanOrEqual(0.0005);
      expect(viewport.largestRegionPixels).toBeLessThanOrEqual(16);
    }
    expect(folded.late).toMatchObject({ mode: 'whole', holds: true });
    expect(folded.foldCompressedBytes).toBeLessThan(folded.sourceCompressedBytes * 0.12);
    expect(folded.rules.find((one: { selector: string }) => one.selector === 'body').why).toMatch(
      /^It paints html > body at 390×844 and \d more viewports\.$/,
    );

    const planned = await wistrel(['plan', quay.url('/'), ...quick, '--unrehearsed', '--out', plan]);
    expect(planned.code).toBe(0);
    expect(planned.out).toContain('Not rehearsed: legal by reading alone, and reading can be wrong.');
    const { rules, ...rest } = JSON.parse(readFileSync(plan, 'utf8'));
    expect(rules.map((rule: { treatment: string }) => rule.treatment)).toContain('fold-css-late');

    const scripts = rules.filter((rule: { kind: string }) => rule.kind === 'script');
    writeFileSync(`${plan}.scripts.json`, JSON.stringify({ ...rest, rules: scripts }));
    const treatedFolder = `${plan}-treated`;
    const asked = [
      'treat',
      quay.url('/'),
      ...quick,
      '--plan',
      `${plan}.scripts.json`,
      '--out',
      treatedFolder,
    ];
    const treated = await wistrel(asked);
    expect(treated.code, treated.error).toBe(0);
    const changes: { url: string; file: string; contentType: string; change: string }[] = JSON.parse(
      readFileSync(`${treatedFolder}/changes.json`, 'utf8'),
    );
    expect(changes[0]).toEqual({
      url: quay.url('/'),
      file: 'page.html',
      contentType: 'text/html',
      change: 'changed',
    });
    expect(readFileSync(`${treatedFolder}/page.html`, 'utf8')).toMatch(/lib\.js" defer/);
    for (const { file, change } of changes.slice(1)) {
      expect(change).toBe('new');
      expect(readFileSync(`${treatedFolder}/${file}`, 'utf8').length).toBeGreaterThan(0);
    }
    // A rule that cannot be carried out is told, and the rest is written all the same.
    writeFileSync(
      `${plan}.scripts.json`,
      JSON.stringify({
        ...rest,
        rules: [
          ...scripts,
          {
            ...scripts[0],
            match: { url: 'https://gone.test/x.js' },
            on: true,
            treatment: 'defer',
            id: 'gone',
          },
        ],
      }),
    );
    const partly = await wistrel(asked);
    expect(partly.code).toBe(1);
    expect(partly.out).toContain('Not applied, gone: The page has no such script.');

    const checks = join(folder, 'checks.txt');
    writeFileSync(checks, 'see The tide turns at noon\n');
    const trial = await wistrel([
      'trial',
      quay.url('/'),
      ...quick,
      '--own-checks',
      checks,
      '--plan',
      plan,
      '--runs',
      '1',
      '--json',
      '-',
    ]);
    // Nothing is called faster before it is rehearsed: the chat paints above the fold, and must not wait for a touch.
    expect(trial.code).toBe(1);
    const result = JSON.parse(trial.out);
    expect(result.checks.rehearsal.faults.join('\n')).toContain(
      'looks different above the fold before any input',
    );
    expect(result.breaks.join()).toMatch(/fault/);
    const own = result.deeds.filter((one: { own?: string }) => one.own === 'see The tide turns at noon');
    expect(own.map((one: { undecided: string | null }) => one.undecided)).toEqual([null, null]);
    expect(result.arms.map((arm: { name: string }) => arm.name)).toEqual(['as is', 'treated']);
    expect(result.verdicts.paint.verdict).toBe('too few runs to say');
    expect(result.sentence).toMatch(/^Too few runs to say/);
    expect(result.checks.consoleErrors.treated).toEqual(result.checks.consoleErrors.asIs);
  });
});

describe('what goes wrong', () => {
  const wistrel = userOf('unlucky');

  it('bad usage: one sentence and the usage line, exit 2', async () => {
    const bad = await wistrel(['map', 'quay', '--runs', '2']);
    expect(bad.code).toBe(2);
    expect(bad.error).toBe(
      '“quay” is not a full address. Write it like https://www.example.test/page.\nUsage: ./wistrel map <url|file.har> … [--conditions ID] [--runs N] [--json FILE]\n',
    );
    expect((await wistrel(['sail'])).error).toContain('There is no command “sail”.');
  });

  it('asked how it is called, it says so: exit 0', async () => {
    const all = await wistrel(['--help']);
    expect(all.code).toBe(0);
    expect(all.out.split('\n')).toHaveLength(15);
    expect((await wistrel(['har', '-h'])).out).toBe(
      'Usage: ./wistrel har <url> --out FILE.har [--conditions ID] [--keep-secrets]\n',
    );
    expect((await wistrel(['help', 'start'])).out).toBe('Usage: ./wistrel start [--port N] [--data DIR]\n');
  });

  it('a plan that is none: exit 2', async () => {
    const { code, error } = await wistrel(['trial', site.url('/'), '--plan', 'package.json']);
    expect(code).toBe(2);
    expect(error).toContain('is not a plan');
  });

  it('a page that cannot be measured: a sentence, exit 3', async () => {
    const broken = await wistrel(['map', `${odd.url}broken`]);
    expect([broken.code, broken.error]).toEqual([
      3,
      expect.stringContaining('answered 500. Nothing stored was changed.'),
    ]);
    const own = await wistrel(['map', site.url('/')]);
    expect([own.code, own.error]).toEqual([
      3,
      expect.stringContaining('On the command line: add --accept-certificate.'),
    ]);
  });

  it('Chromium missing: a sentence that says what to do, exit 3', async () => {
    const { code, error } = await wistrel(['map', site.plainUrl('/')], {
      WISTREL_CHROMIUM: '/nowhere/chromium',
    });
    expect(code).toBe(3);
    expect(error).toContain('Chromium is not at /nowhere/chromium');
  });
});
