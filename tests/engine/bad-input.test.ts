import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { capturePage } from '../../src/engine/capture/capture-page.ts';
import { LOAD_LIMITS } from '../../src/engine/chromium/visit.ts';
import { Trouble } from '../../src/engine/errors.ts';
import { generateFold } from '../../src/engine/fold/generate-fold.ts';
import { CapturedPage } from '../../src/core/page/captured-page.ts';
import { readPageAssets } from '../../src/core/page/page-assets.ts';
import { recommendPlan } from '../../src/core/treat/recommend.ts';
import { sceneOf } from '../../src/core/treat/scene.ts';
import { visitorCapture } from './defaults.ts';
import { serveOddPages, serveOwnCertificate, type TestServer } from './odd-servers.ts';

let odd: TestServer;

beforeAll(async () => {
  odd = await serveOddPages();
});
afterAll(() => odd.close());

const capture = (url: string, accepted: { host: string; publicKeyHash: string }[] = []) =>
  capturePage(
    visitorCapture(url, {
      accepted,
      limits: { ...LOAD_LIMITS, loadMs: 4_000, stuckMs: 60_000, quietMs: 400 },
    }),
  );

async function troubleWith(url: string): Promise<Trouble> {
  const error: unknown = await capture(url).then(
    () => null,
    (reason: unknown) => reason,
  );
  if (!(error instanceof Trouble)) throw new Error(`Expected trouble with ${url}, had ${String(error)}`);
  return error;
}

describe('a page that cannot be captured is told in a plain sentence', () => {
  it.each([
    ['broken', /answered 500/],
    ['circle', /redirects for ever/],
    ['picture', /is not HTML but image\/png/],
    ['text', /is not HTML but text\/plain/],
    ['endless', /did not finish loading within 4 s\..* Without an answer: \S+never\./],
  ])('%s', async (path, sentence) => {
    expect((await troubleWith(odd.url + path)).message).toMatch(sentence);
  });

  it('no server at all', async () => {
    const gone = await serveOddPages();
    await gone.close();
    expect((await troubleWith(gone.url)).message).toMatch(
      /does not answer .* Check that the server is running/,
    );
  });
});

it('offers the choice to accept a certificate of the server’s own making, and goes on with it', async () => {
  const own = await serveOwnCertificate();
  try {
    const trouble = await troubleWith(own.url);
    expect(trouble.kind).toBe('certificate');
    expect(trouble.certificate?.host).toBe(new URL(own.url).host);
    const { capture: taken } = await capture(own.url, [trouble.certificate!]);
    expect(taken.title).toBe('Own');
    expect(taken.acceptedCertificates).toEqual([new URL(own.url).host]);
  } finally {
    await own.close();
  }
});

it('carries a malformed page through: its CSS is recovered as a browser recovers it', async () => {
  const { capture: taken, bodies } = await capture(`${odd.url}malformed`);
  const fold = await generateFold({ capture: taken, bodies, state: null });
  expect({ proved: fold.proved, css: fold.css }).toEqual({ proved: true, css: '.a{color:red}' });
  const plan = recommendPlan(sceneOf(readPageAssets(new CapturedPage(taken, bodies), []), fold));
  expect(plan.rules.map((rule) => rule.treatment)).toEqual(['fold-css-late', 'defer']);
});

it('fails the proof on a blank reference picture', async () => {
  const { capture: taken, bodies } = await capture(`${odd.url}blank`);
  const fold = await generateFold({ capture: taken, bodies, state: null });
  expect(fold.proved).toBe(false);
  expect(fold.remarks.join(' ')).toMatch(/blank: nothing can be proved/);
});
