import { describe, expect, it } from 'vitest';
import { readHtml } from '../html/document.ts';
import type { AssetKind } from '../measure/discovery.ts';
import { hintsInVain } from './own-hints.ts';

const PAGE = 'https://quay.test/';

/** Which hints help nothing, as "line: why", on a page of so many lines that asks for these files. */
function inVain(lines: string[], asked: Record<string, AssetKind>): string[] {
  const page = {
    document: readHtml(new TextEncoder().encode(`<!doctype html><head>\n${lines.join('\n')}\n</head>`)),
    documentUrl: PAGE,
    requests: Object.entries({ [PAGE]: 'document' as const, ...asked }).map(([url, kind]) => ({ url, kind })),
  };
  return hintsInVain(page).map(({ element, why }) => `${element.line}: ${why}`);
}

describe('hints of the page’s own', () => {
  it('are of use where a connection of their sort is made, and in vain elsewhere', () => {
    const lines = [
      '<link rel="preconnect" href="https://faces.test">',
      '<link rel="preconnect" href="https://faces.test" crossorigin>',
      '<link rel=PRECONNECT href=//tiles.test/>',
      '<link rel="preconnect" href="https://gone.test" crossorigin="use-credentials">',
      '<link rel="preconnect" href="https://code.test" crossorigin>',
      '<script src="https://code.test/a.js"></script>',
      '<link rel="dns-prefetch" href="/">',
    ];
    expect(
      inVain(lines, {
        'https://faces.test/a.woff2': 'font',
        'https://tiles.test/1.png': 'image',
        'https://code.test/a.js': 'script',
      }),
    ).toEqual(['2: other sort', '5: nothing asked', '6: other sort', '8: own host']);
  });

  it('may be of use where only a script knows how it asks, and to the page’s own host', () => {
    const lines = [
      '<link rel="preconnect" href="https://api.test">',
      '<link rel="preconnect" href="https://api.test" crossorigin>',
      '<link rel="preconnect" href="/">',
      '<link rel="preconnect" href="/" crossorigin>',
    ];
    expect(inVain(lines, { 'https://api.test/times.json': 'data' })).toEqual([]);
    // A script that a script put in.
    expect(inVain(lines, { 'https://api.test/more.js': 'script' })).toEqual([]);
  });

  it('are in vain the second time, whatever path they name', () => {
    const lines = [
      '<link rel="dns-prefetch" href="//tiles.test">',
      '<link rel="preconnect" href="https://tiles.test">',
      '<link rel="preconnect" href="https://tiles.test/a">',
      '<link rel="dns-prefetch" href="https://tiles.test" crossorigin>',
    ];
    expect(inVain(lines, { 'https://tiles.test/1.png': 'image' })).toEqual(['4: twice', '5: twice']);
  });

  it('stay where a name is looked up for a click to come, where they do something else as well, or nothing at all', () => {
    const lines = [
      '<link rel="dns-prefetch" href="https://booking.test">',
      '<link rel="preconnect stylesheet" href="https://styles.test/a.css">',
      '<link rel="preconnect">',
      '<link rel="preconnect" href="data:,">',
      '<template><link rel="preconnect" href="https://later.test"></template>',
    ];
    expect(inVain(lines, {})).toEqual([]);
  });
});
