import { EVERY_HOST, makeCertificate } from '../src/engine/chromium/certificates.ts';
import { findConditions } from '../src/core/measure/conditions.ts';
import { median } from '../src/core/measure/metrics.ts';
import { AS_VISITOR } from '../src/core/measure/visit.ts';
import { askingAhead } from '../src/core/next/ahead.ts';
import { NAVIGATION_PAIRS, type NavigationPair } from '../src/core/next/navigation.ts';
import { nextPages, type NextPages } from '../src/core/next/next-assets.ts';
import { CapturedPage } from '../src/core/page/captured-page.ts';
import { readPageAssets } from '../src/core/page/page-assets.ts';
import { recommendPlan } from '../src/core/treat/recommend.ts';
import { sceneOf } from '../src/core/treat/scene.ts';
import { SKERRAVANE } from '../src/demo/site/names.ts';
import { hostNames, startDemoSite } from '../src/demo/site/server.ts';
import { carryOut, type Order, type ResultOf } from '../src/engine/jobs/orders.ts';
import type { Finding } from './report.ts';

const conditions = findConditions('slow-phone')!;
const RUNS = 3;
/** How much of the time without is to be left. */
const HALF = 0.5;
const NOTHING: NextPages = { assets: [], answers: [] };

const carry = <O extends Order>(order: O): Promise<ResultOf<O['kind']>> => carryOut(order, () => undefined);

/** From the demo home to its timetable: how soon it is there, with and without what is asked for ahead, and with its own plan as well. */
export async function nextPageBench(): Promise<Finding> {
  const certificate = await makeCertificate(hostNames(SKERRAVANE));
  const site = await startDemoSite({ names: SKERRAVANE, certificate, httpsPort: 0, httpPort: 0 });
  const accepted = [{ host: EVERY_HOST, publicKeyHash: certificate.publicKeyHash }];
  try {
    const home = await measured('Home', site.url('/'), accepted);
    const timetable = await measured('Timetable', site.url('/timetable'), accepted);
    const name = 'Timetable';
    const next = nextPages(home.page, [{ name, page: timetable.page, signedIn: false }]);
    const own = await planned(home, next);
    const { navigation } = await carry({
      kind: 'navigation',
      ...own,
      plan: askingAhead(own.plan),
      next,
      conditions,
      yardstick: null,
      to: { ...timetable, name, planned: { ...(await planned(timetable, NOTHING)), next: NOTHING } },
      pairs: NAVIGATION_PAIRS,
    });
    return {
      title: 'On to the next page',
      about: `From the demo home to its timetable under ${conditions.id}, both plans rehearsed: first contentful paint of the timetable from the press on its link, two seconds after the home page has loaded; medians of ${NAVIGATION_PAIRS} ways each. To reach: at most ${HALF} of the time without.`,
      columns: ['way', 'timetable, ms', 'least', 'most', 'share', 'the home page itself, ms'],
      rows: rowsOf(navigation.pairs),
    };
  } finally {
    await site.close();
  }
}

type Measured = Awaited<ReturnType<typeof measured>>;

async function measured(pageName: string, url: string, accepted: { host: string; publicKeyHash: string }[]) {
  const { capture, bodies, state, measurement } = await carry({
    kind: 'measure',
    pageName,
    url,
    conditions,
    runs: RUNS,
    returnVisits: false,
    accepted,
    visit: AS_VISITOR,
    ownClock: true,
    yardstick: null,
  });
  const page = new CapturedPage(capture, bodies);
  return { pageName, capture, bodies, state, page, requests: measurement.runs[0]!.requests };
}

/** A page with what is left of its recommended plan once that was rehearsed. */
async function planned({ page, ...it }: Measured, next: NextPages) {
  const { fold } = await carry({ kind: 'fold', ...it });
  const plan = recommendPlan(sceneOf(readPageAssets(page, it.requests), fold, next.assets));
  const { rehearsal } = await carry({ kind: 'rehearse', ...it, fold, plan, next, checks: [] });
  return { ...it, fold, plan: rehearsal.plan };
}

function rowsOf(pairs: readonly NavigationPair[]): Finding['rows'] {
  const of = (arm: keyof NavigationPair, key: 'paintMs' | 'ownPaintMs') =>
    pairs.flatMap((pair) => pair[arm]?.[key] ?? []);
  const without = median(of('without', 'paintMs'))!;
  const arms = [
    ['nothing asked for ahead', 'without'],
    ['asked for ahead', 'ahead'],
    ['with the timetable’s own plan as well', 'both'],
  ] as const;
  return arms.map(([words, arm]) => {
    const paints = of(arm, 'paintMs');
    const middle = median(paints);
    if (middle === null) return [words, '–', '–', '–', '–', '–'];
    const whole = (ms: number | null) => (ms === null ? '–' : Math.round(ms));
    return [
      words,
      Math.round(middle),
      Math.round(Math.min(...paints)),
      Math.round(Math.max(...paints)),
      (middle / without).toFixed(2),
      whole(median(of(arm, 'ownPaintMs'))),
    ];
  });
}
