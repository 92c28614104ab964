import type { Page } from 'puppeteer-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { BUILT_IN_CONDITIONS } from '../../src/core/measure/conditions.ts';
import type { CapturedPage } from '../../src/core/page/captured-page.ts';
import { readPageAssets } from '../../src/core/page/page-assets.ts';
import { AS_RECORDED } from '../../src/core/rehearse/arrival.ts';
import { applyPlan } from '../../src/core/treat/apply.ts';
import { activeRules, matchText, RISKS, type Plan, type PlanRule } from '../../src/core/treat/plan.ts';
import { recommendPlan } from '../../src/core/treat/recommend.ts';
import { sceneOf } from '../../src/core/treat/scene.ts';
import type { Scene } from '../../src/core/treat/treatment.ts';
import { rest } from '../../src/engine/rehearse/rehearsal-stage.ts';
import { StagePool } from '../../src/engine/rehearse/stage-pool.ts';
import { overridesOf } from '../../src/engine/replay/overrides.ts';
import { MARKUP } from './corpus/markup.ts';
import { MOMENTS } from './corpus/moments.ts';
import { NAMES } from './corpus/names.ts';
import type { CorpusPage } from './corpus/page.ts';
import { ONE_FILE } from './corpus/one-file.ts';
import { WEAKER } from './corpus/weaker.ts';
import { PLACES } from './corpus/places.ts';
import { madePage } from '../engine/made-capture.ts';

const CORPUS = [...NAMES, ...PLACES, ...MOMENTS, ...MARKUP, ...WEAKER, ...ONE_FILE];
const PHONE = BUILT_IN_CONDITIONS[0]!;

function made(page: CorpusPage): CapturedPage {
  const { html, files = {}, policies, type } = page;
  return madePage(html, files, { ...(policies ? { policies } : {}), ...(type ? { type } : {}) });
}

/** The page with fold CSS that holds all of each sheet: what is late then shows nowhere else. */
function sceneFor(page: CorpusPage): Scene {
  const captured = made(page);
  const scene = sceneOf(readPageAssets(captured, []), null);
  if (page.noFold) return scene;
  const fold = scene.page.styles.flatMap(({ element: { url } }) =>
    url === null
      ? []
      : [{ url, css: captured.text(url) ?? '', rest: null, keptRules: 1, rules: 1, foldBytes: 1 }],
  );
  return { ...scene, fold, foldUsable: true };
}

let pool: StagePool;
beforeAll(async () => {
  pool = await StagePool.open();
});
afterAll(() => pool.close());

/** What the page says once it rests, was tapped and rests again. */
function sayingOf(page: CorpusPage, plan: Plan | null): Promise<string> {
  const captured = made(page);
  const treated = applyPlan(sceneFor(page), plan ?? { wistrelPlan: 1, page: captured.url, rules: [] });
  const bodies = new Map(
    captured.capture.exchanges.map((one) => [one.bodyHash!, captured.body(one.url)!] as const),
  );
  return pool.on((stage) =>
    stage.load(
      { capture: captured.capture, bodies, state: null },
      overridesOf(captured.url, treated),
      AS_RECORDED,
      PHONE,
      {
        act: async (visit, gates) => {
          await tap(visit.page);
          await rest(visit, gates);
          return visit.page.evaluate(() => {
            try {
              return String(Function(`return ${document.body.dataset['says']}`)());
            } catch (error) {
              return String(error);
            }
          });
        },
      },
    ),
  );
}

async function tap(page: Page): Promise<void> {
  const target = await page.$('[data-tap]');
  if (target) await target.click();
  else await page.keyboard.press('Shift');
}

describe.concurrent.each(CORPUS)('$name', (page) => {
  it('says the same at every ceiling of risk', async ({ expect }) => {
    expect(await sayingOf(page, null), 'as authored').toBe(page.says);
    const tried = new Set<string>();
    for (const risk of RISKS) {
      const plan = recommendPlan(sceneFor(page), risk);
      const key = JSON.stringify(activeRules(plan).map((rule) => [matchText(rule.match), rule.treatment]));
      if (tried.has(key)) continue;
      tried.add(key);
      expect(await sayingOf(page, plan), `up to ${risk} risk: ${key}`).toBe(page.says);
    }
  });

  it.runIf(page.chosen)('says the same with what its developer chooses', async ({ expect }) => {
    const match = (name: string) => ({ url: new URL(name, 'https://quay.test/').href });
    const rules = Object.entries(page.chosen!).map(([name, { treatment, together }], index): PlanRule => ({
      id: `r${index}`,
      on: true,
      kind: /\.css$/.test(name) ? 'stylesheet' : 'script',
      match: match(name),
      scope: 'page',
      treatment,
      reason: '',
      risk: 'medium',
      together: together.map(match),
    }));
    const plan: Plan = { wistrelPlan: 1, page: 'https://quay.test/', rules };
    expect(applyPlan(sceneFor(page), plan).notApplied).toEqual([]);
    expect(await sayingOf(page, plan)).toBe(page.says);
  });

  it.runIf(page.strongest)('reaches its strongest treatment', ({ expect }) => {
    const scene = sceneFor(page);
    const { rules } = recommendPlan(scene, 'high');
    const reached = Object.fromEntries(
      Object.keys(page.strongest!).map((name) => {
        const text = name.startsWith('inline: ') ? name : new URL(name, 'https://quay.test/').href;
        return [name, rules.find((one) => matchText(one.match).startsWith(text))?.treatment ?? 'as-authored'];
      }),
    );
    expect(reached).toEqual(page.strongest);
  });
});

it('holds at least ninety pages', () => {
  expect(CORPUS.length).toBeGreaterThanOrEqual(90);
});
