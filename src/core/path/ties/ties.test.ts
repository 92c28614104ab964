import { describe, expect, it } from 'vitest';
import { madePage } from '../../../../tests/engine/made-capture.ts';
import type { KeptRule } from '../../fold/choose.ts';
import type { Observations } from '../../measure/exchange.ts';
import type { AssetKind } from '../../measure/discovery.ts';
import { readPageAssets } from '../../page/page-assets.ts';
import { tiesOf } from './index.ts';

const PAGE = 'https://quay.test/';

interface Scene {
  html?: string;
  files?: Record<string, string>;
  kept?: KeptRule[];
  observations?: Partial<Observations>;
}

/** The ties of a file of a page, told as sentences. */
function ties(name: string, kind: AssetKind, { html = '', files = {}, kept = [], observations }: Scene) {
  const page = readPageAssets(madePage(html, files, { observations }), []);
  const found = tiesOf(PAGE + name, kind, { page, kept });
  return {
    defines: found.defines.map(({ what, names }) => `${what}: ${names.join(', ')}`),
    neededBy: found.neededBy.map(({ who, why }) => `${who} ${why}`),
    needs: found.needs.map(({ who, why }) => `${who} ${why}`),
    links: [...found.neededBy, ...found.needs].flatMap(({ url }) => url ?? []),
  };
}

describe('a script', () => {
  const files = {
    'lib.js': 'window.tide = function () {};\nvar quay = 1;',
    'carousel.js': '\n\ntide();\nvar carousel = quay;',
  };
  const html = `<script src="/lib.js"></script>
<script src="/carousel.js"></script>
<script>
  tide();
</script>
<button onclick="tide()">Tide</button>
<p onclick="other()">Other</p>`;

  it('defines names, and is needed by the files, inline scripts and handlers that read them', () => {
    const lib = ties('lib.js', 'script', { html, files });
    expect(lib.defines).toEqual(['global names: quay, tide']);
    expect(lib.neededBy).toEqual([
      'carousel.js reads tide, quay, first on line 3',
      'inline script, line 3 reads tide, first on line 4',
      'onclick of button, line 6 of the page reads tide',
    ]);
    expect(lib.needs).toEqual([]);
    expect(lib.links).toEqual([`${PAGE}carousel.js`]);
  });

  it('needs those that define what it reads, and not itself', () => {
    const carousel = ties('carousel.js', 'script', { html, files });
    expect(carousel.needs).toEqual(['lib.js defines tide, quay']);
    expect(carousel.neededBy).toEqual([]);
  });

  it('that another script put into the page is read all the same', () => {
    const late = ties('late.js', 'script', { html, files: { ...files, 'late.js': 'tide(); late = 2' } });
    expect(late.needs).toEqual(['lib.js defines tide']);
    expect(late.defines).toEqual(['global names: late']);
  });
});

describe('a stylesheet', () => {
  const files = {
    'palette.css': ':root { --sea: teal; --sand: tan }\n@keyframes swell { to { opacity: 1 } }',
    'type.css':
      '@font-face { font-family: "Quay Sans"; src: url(q.woff2) }\n.own { --own: 1; top: var(--own) }',
    'site.css':
      'h1 { color: var(--sea); font: 700 2rem "Quay Sans", serif }\n.wave { animation: swell 2s }\n.own { left: var(--own) }\n:root { --own: 2 }',
  };
  const kept = (selector: string, element: string | null, over: Partial<KeptRule> = {}): KeptRule => ({
    selector,
    context: '',
    sheetUrl: `${PAGE}site.css`,
    line: 1,
    concern: 'painted',
    reason: 'matches',
    neededBy: element === null ? [] : [{ viewport: '390×844', element }],
    bytes: 10,
    embedded: false,
    ...over,
  });

  it('defines properties, faces and animations, and is needed by the sheets that use them', () => {
    const palette = ties('palette.css', 'stylesheet', { files });
    expect(palette.defines).toEqual(['custom properties: --sea, --sand', 'animations: swell']);
    expect(palette.neededBy).toEqual(['site.css uses --sea, swell']);
    expect(ties('type.css', 'stylesheet', { files }).neededBy).toEqual(['site.css uses quay sans']);
  });

  it('needs those that define what it uses; what it defines itself it has', () => {
    const site = ties('site.css', 'stylesheet', { files });
    expect(site.needs).toEqual(['palette.css defines --sea, swell', 'type.css defines quay sans']);
    expect(site.links).toEqual([`${PAGE}palette.css`, `${PAGE}type.css`]);
  });

  it('is needed by elements above the fold, each told once with the rules it needs', () => {
    const rules = [
      kept('h1', 'h1.title'),
      kept('.title', 'h1.title'),
      kept('.title:hover', 'h1.title'),
      kept('.wave', 'i.wave'),
      kept('.away', 'div.away', { concern: 'hidden' }),
      kept('.decided', null, { reason: 'decided' }),
      kept('@font-face', null, { reason: 'named' }),
      kept('.other', 'p', { sheetUrl: `${PAGE}palette.css` }),
    ];
    expect(ties('site.css', 'stylesheet', { files, kept: rules }).neededBy).toEqual([
      'h1.title above the fold, by h1, .title and 1 more',
      'i.wave above the fold, by .wave',
      '.decided You said that it is always kept.',
    ]);
  });
});

describe('a font or a picture', () => {
  it('is needed by the texts it paints, and the places it is shown at', () => {
    const use = (family: string, sample: string, aboveFold: boolean) => ({
      family,
      custom: true,
      weight: 400,
      italic: false,
      glyphs: 1_200,
      sample,
      box: { x: 0, y: 0, width: 1, height: 1 },
      aboveFold,
    });
    const file = (url: string) => ({
      url,
      family: 'Quay',
      weights: [1, 1_000] as [number, number],
      italic: false,
    });
    const observations = {
      fonts: [use('Quay', 'Next sailings', true), use('Other', 'No', true), use('Quay', 'Contact', false)],
      fontFiles: [file(`${PAGE}q.woff2`)],
      boxes: [
        {
          element: 'img.hero',
          tag: 'img',
          url: `${PAGE}hero.jpg`,
          box: { x: 0, y: 0, width: 1, height: 1 },
          natural: null,
        },
      ],
      backgrounds: [{ element: 'header.top', url: `${PAGE}hero.jpg` }],
    };
    expect(ties('q.woff2', 'font', { observations }).neededBy).toEqual([
      '“Next sailings” above the fold',
      '“Contact” below the fold',
    ]);
    const two = { ...observations, fontFiles: [...observations.fontFiles, file('bold')] };
    expect(ties('q.woff2', 'font', { observations: two }).neededBy[0]).toBe(
      '“Next sailings” above the fold, painted by this or another file of its family',
    );
    const ofWeights = {
      fonts: [
        { ...use('Quay', 'Sailings', true), weight: 400, italic: false },
        { ...use('Quay', 'Cancelled', false), weight: 800, italic: false },
      ],
      fontFiles: [
        { url: `${PAGE}q.woff2`, family: 'Quay', weights: [400, 400] as [number, number], italic: false },
        { url: `${PAGE}bold.woff2`, family: 'Quay', weights: [700, 700] as [number, number], italic: false },
      ],
    };
    expect(ties('q.woff2', 'font', { observations: ofWeights }).neededBy).toEqual([
      '“Sailings” above the fold',
    ]);
    expect(ties('bold.woff2', 'font', { observations: ofWeights }).neededBy).toEqual([
      '“Cancelled” below the fold',
    ]);
    const html = '<p>\n<img src="/hero.jpg" alt="">';
    expect(ties('hero.jpg', 'image', { html, observations }).neededBy).toEqual([
      'img.hero above the fold',
      'header.top its background, above the fold',
      'img line 2 of the page',
    ]);
    expect(ties('data.json', 'data', { observations }).neededBy).toEqual([]);
  });
});
