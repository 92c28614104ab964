import { expect, it } from 'vitest';
import type { Change } from './compose.ts';
import { linkHeaderOf } from './link-header.ts';

const PAGE = { pageUrl: 'https://quay.test/sail/', baseUrl: 'https://quay.test/sail/' };
const put = (after: string, over: Partial<Change> = {}): Change => ({
  ruleId: 'r1',
  title: '',
  where: 'line 4 of the page',
  at: 4,
  before: '',
  after,
  ...over,
});
const FONT = { kind: 'font', treatment: 'preload' } as const;

it('says the same as the tags that are put in, from the root of the host', () => {
  const tag =
    '<link rel="preload" as="font" type="font/woff2" href="fonts/a.woff2?v=1&amp;w=2" crossorigin>\n';
  expect(linkHeaderOf(put(tag), FONT, PAGE)).toBe(
    'Link: </sail/fonts/a.woff2?v=1&w=2>; rel=preload; as=font; type="font/woff2"; crossorigin',
  );
  const two =
    '<link rel="preconnect" href="https://far.test"><link rel="preconnect" href="https://far.test" crossorigin>';
  expect(linkHeaderOf(put(two), { kind: 'host', treatment: 'preconnect' }, PAGE)).toBe(
    'Link: <https://far.test/>; rel=preconnect, <https://far.test/>; rel=preconnect; crossorigin',
  );
  const image =
    '<link rel="preload" as="image" href="/a.jpg" imagesrcset="/a.jpg 1x, /b.jpg 2x" fetchpriority="high">';
  expect(linkHeaderOf(put(image), { kind: 'image', treatment: 'early' }, PAGE)).toBe(
    'Link: </a.jpg>; rel=preload; as=image; imagesrcset="/a.jpg 1x, /b.jpg 2x"; fetchpriority=high',
  );
});

it('offers no header where it would not be the same', () => {
  const tag = '<link rel="preload" as="font" href="a.woff2" crossorigin>';
  expect(linkHeaderOf(put(tag, { before: '<b>' }), FONT, PAGE)).toBeNull();
  expect(linkHeaderOf(put(tag, { at: null }), FONT, PAGE)).toBeNull();
  expect(linkHeaderOf(put(`${tag}<style>p{}</style>`), FONT, PAGE)).toBeNull();
  expect(linkHeaderOf(put('<link rel="stylesheet" href="a.css">'), FONT, PAGE)).toBeNull();
  expect(linkHeaderOf(put(tag.replace('crossorigin', 'nonce="x"')), FONT, PAGE)).toBeNull();
  expect(linkHeaderOf(put(tag.replace('a.woff2', 'data:font/woff2,x')), FONT, PAGE)).toBeNull();
  // What runs after the paint is asked for where it does not crowd what comes before.
  const script = '<link rel="preload" as="script" href="a.js">';
  expect(linkHeaderOf(put(script), { kind: 'script', treatment: 'after-paint' }, PAGE)).toBeNull();
});
