import { expect, it } from 'vitest';
import { madePage } from '../../../tests/engine/made-capture.ts';
import { inPage, madeRequest } from '../../../tests/engine/made-requests.ts';
import type { RequestTiming } from '../measure/run.ts';
import { readPageAssets } from '../page/page-assets.ts';
import { hostsText } from '../words/hosts.ts';
import { outsideHosts } from './outside-hosts.ts';

const FONTS = 'https://fonts.other.test';
const asked = (over: Partial<RequestTiming> & { url: string }) => ({
  ...madeRequest(over.url, inPage('https://quay.test/')),
  ...over,
});
const requests = [
  asked({ url: 'https://quay.test/', kind: 'document' }),
  asked({ url: 'https://count.test/late.js', kind: 'script', startMs: 2_000, wireBytes: 900 }),
  asked({
    url: `${FONTS}/keel.css`,
    kind: 'stylesheet',
    startMs: 100,
    wireBytes: 1_000,
    connectMs: { start: 100, end: 460 },
  }),
  asked({
    url: `${FONTS}/keel.woff2`,
    kind: 'font',
    startMs: 700,
    wireBytes: 20_000,
    connectMs: { start: 700, end: 1_050 },
  }),
  asked({ url: 'data:image/png,x', kind: 'image' }),
];

it('lists the hosts that are asked, what each connection cost, and which the page hints at', () => {
  const page = madePage(
    `<link rel="preconnect" href="${FONTS}"><link rel="stylesheet" href="${FONTS}/keel.css"><p>Quay</p>`,
    { [`${FONTS}/keel.css`]: 'p{}' },
  );
  const hosts = outsideHosts(readPageAssets(page, requests), requests, 1_500);
  expect(hosts.map(({ origin, beforePaint }) => [origin, beforePaint])).toEqual([
    [FONTS, true],
    ['https://count.test', false],
  ]);
  expect(hosts[0]).toMatchObject({
    owner: 'other.test',
    kinds: ['stylesheet', 'font'],
    requests: 2,
    wireBytes: 21_000,
    connectMs: [360, 350],
    sorts: ['credentialed', 'anonymous'],
    hinted: ['preconnect'],
  });
  expect(hostsText(hosts).split('\n')).toEqual([
    'https://fonts.other.test; 2 requests: stylesheet, font, 21 KB; first at 100 ms, before the paint; connection: 360 ms, 350 ms; with and without credentials; hinted: preconnect',
    'https://count.test; one request: script, 900 B; first at 2,000 ms; connection: none seen; with credentials',
  ]);
});
