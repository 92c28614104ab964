import { expect, it } from 'vitest';
import { madePage } from '../../../tests/engine/made-capture.ts';
import { together } from './together.ts';

it('adds what only the other page’s capture holds, and keeps the first one’s answers', () => {
  const part = (html: string, url: string, files: Record<string, string>) => {
    const page = madePage(html, files, { url });
    const bodies = new Map(
      page.capture.exchanges.map((one) => [one.bodyHash!, page.body(one.url)!] as const),
    );
    return { capture: page.capture, bodies };
  };
  const both = together(
    part('<p>Home</p>', 'https://quay.test/', { '/site.css': 'p { color: teal }' }),
    part('<p>Times</p>', 'https://quay.test/times', { '/site.css': 'p { color: navy }', '/times.js': '1' }),
  );
  expect(both.capture.url).toBe('https://quay.test/');
  expect(
    both.capture.exchanges.map(({ order, url, bodyHash }) => [
      order,
      new URL(url).pathname,
      new TextDecoder().decode(both.bodies.get(bodyHash!)),
    ]),
  ).toEqual([
    [0, '/', '<p>Home</p>'],
    [1, '/site.css', 'p { color: teal }'],
    [2, '/times', '<p>Times</p>'],
    [3, '/times.js', '1'],
  ]);
});
