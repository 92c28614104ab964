import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { capturePage } from '../../src/engine/capture/capture-page.ts';
import {
  EVERY_HOST,
  makeCertificate,
  type AcceptedCertificate,
} from '../../src/engine/chromium/certificates.ts';
import { launchChromium } from '../../src/engine/chromium/launch.ts';
import { goTo, LOAD_LIMITS, openVisit } from '../../src/engine/chromium/visit.ts';
import { findConditions } from '../../src/core/measure/conditions.ts';
import { Trouble } from '../../src/engine/errors.ts';
import { generateFold } from '../../src/engine/fold/generate-fold.ts';
import { CapturedPage } from '../../src/core/page/captured-page.ts';
import { readPageAssets } from '../../src/core/page/page-assets.ts';
import { recommendPlan } from '../../src/core/treat/recommend.ts';
import { sceneOf } from '../../src/core/treat/scene.ts';
import { visitorCapture } from './defaults.ts';
import { serve, serveOddPages, serveOwnCertificate, type TestServer } from './odd-servers.ts';

let odd: TestServer;

beforeAll(async () => {
  odd = await serveOddPages();
});
afterAll(() => odd.close());

const capture = (url: string, accepted: readonly AcceptedCertificate[] = []) =>
  capturePage(
    visitorCapture(url, {
      accepted,
      limits: { ...LOAD_LIMITS, loadMs: 4_000, stuckMs: 60_000, quietMs: 400 },
    }),
  );

async function troubleWith(url: string, accepted: readonly AcceptedCertificate[] = []): Promise<Trouble> {
  const error: unknown = await capture(url, accepted).then(
    () => null,
    (reason: unknown) => reason,
  );
  if (!(error instanceof Trouble)) throw new Error(`Expected trouble with ${url}, had ${String(error)}`);
  return error;
}

describe('a page that cannot be captured is told in a plain sentence', () => {
  it.concurrent.each([
    ['broken', /answered 500/],
    ['circle', /redirects for ever/],
    ['picture', /is not HTML but image\/png/],
    ['text', /is not HTML but text\/plain/],
    ['endless', /did not finish loading within 4 s\..* Without an answer: \S+never\./],
  ])('%s', async (path, sentence) => {
    expect((await troubleWith(odd.url + path)).message).toMatch(sentence);
  });

  it('of a load from the archive no host is blamed: what is late is this machine', async () => {
    const { browser, close } = await launchChromium({ untimed: true });
    try {
      const visit = await openVisit(browser, findConditions('slow-phone')!, { clock: null, state: null });
      const limits = { ...LOAD_LIMITS, loadMs: 1_000, stuckMs: 60_000, fromArchive: true } as const;
      await expect(goTo(visit, `${odd.url}endless`, limits)).rejects.toThrow(
        /did not finish loading within 1 s\..* this machine is too slow for the page, or busy with other things: end/,
      );
    } finally {
      await close();
    }
  });

  it('no server at all', async () => {
    const gone = await serveOddPages();
    await gone.close();
    expect((await troubleWith(gone.url)).message).toMatch(
      /does not answer .* Check that the server is running/,
    );
  });
});

describe('a certificate of a server’s own making', () => {
  const accept = ({ certificate }: Trouble) =>
    certificate!.hosts.map((host) => ({ host, publicKeyHash: certificate!.publicKeyHash }));

  it.concurrent('can be accepted, and the page is captured then', async () => {
    const own = await serveOwnCertificate();
    try {
      const trouble = await troubleWith(own.url);
      const { host } = new URL(own.url);
      expect([trouble.kind, trouble.certificate?.hosts]).toEqual(['certificate', [host]]);
      const { capture: taken } = await capture(own.url, accept(trouble));
      expect(taken.title).toBe('Own');
      expect(taken.acceptedCertificates).toEqual([host]);
    } finally {
      await own.close();
    }
  });

  it.concurrent('is accepted for that host alone: others that show it are asked about', async () => {
    const certificate = await makeCertificate(['127.0.0.1']);
    const pier = await serveOwnCertificate(certificate);
    const own = await serveOwnCertificate(
      certificate,
      `<title>Own</title><script src="${pier.url}a.js"></script>`,
    );
    try {
      const forOwn = accept(await troubleWith(own.url));
      const trouble = await troubleWith(own.url, forOwn);
      const { host } = new URL(pier.url);
      expect([trouble.kind, trouble.certificate?.hosts]).toEqual(['certificate', [host]]);
      expect(trouble.message).toMatch(
        /was accepted for another host only\..*Accept it there as well to go on\./,
      );
      expect((await capture(own.url, [...forOwn, ...accept(trouble)])).capture.title).toBe('Own');
      const every = [{ host: EVERY_HOST, publicKeyHash: certificate.publicKeyHash }];
      expect((await capture(own.url, every)).capture.title).toBe('Own');
    } finally {
      await own.close();
      await pier.close();
    }
  });

  it.concurrent('is that of the host where an address leads, where it leads to another one', async () => {
    const own = await serveOwnCertificate();
    const plain = await serve((_request, response) => response.writeHead(302, { location: own.url }).end());
    try {
      const trouble = await troubleWith(plain.url);
      expect([trouble.kind, trouble.certificate?.hosts]).toEqual(['certificate', [new URL(own.url).host]]);
      expect((await capture(plain.url, accept(trouble))).capture.title).toBe('Own');
    } finally {
      await plain.close();
      await own.close();
    }
  });
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
