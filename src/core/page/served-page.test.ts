import { expect, it } from 'vitest';
import { madePage } from '../../../tests/engine/made-capture.ts';
import { applyPlan } from '../treat/apply.ts';
import { sceneOf } from '../treat/scene.ts';
import { readPageAssets } from './page-assets.ts';
import { servedPage } from './served-page.ts';

it('is read as it is served: a treated page has its new attributes and files, the rest as captured', () => {
  const page = madePage('<!DOCTYPE html><title>Quay</title><script src="own.js"></script><p>1</p>', {
    'own.js': 'window.own = 1;',
  });
  const bodies = new Map(page.capture.exchanges.map((one) => [one.bodyHash!, page.body(one.url)!]));
  const url = 'https://quay.test/own.js';
  const scene = sceneOf(readPageAssets(page, []), null);
  const rule = {
    id: 'r1',
    on: true,
    kind: 'script',
    match: { url },
    scope: 'page',
    treatment: 'defer',
    reason: '',
    risk: 'low',
  } as const;
  const treated = applyPlan(scene, { wistrelPlan: 1, page: page.url, rules: [rule] });
  const added = {
    url: 'https://quay.test/wistrel/late.css',
    mimeType: 'text/css',
    content: 'p{}',
    isNew: true,
  };
  const served = servedPage(page.capture, (hash) => bodies.get(hash) ?? null, {
    ...treated,
    files: [...treated.files, added],
  });
  const defersOwn = (from: typeof page) => from.scripts.find((one) => one.url === url)!.defer;
  expect([page, served].map(defersOwn)).toEqual([false, true]);
  expect([served.text(url), served.text(added.url)]).toEqual(['window.own = 1;', 'p{}']);
});
