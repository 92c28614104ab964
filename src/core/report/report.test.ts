import { expect, it } from 'vitest';
import { assetsCsv } from '../path/assets-csv.ts';
import type { MapAsset } from '../path/map.ts';
import { reportHtml } from './report-html.ts';

const asset = {
  url: 'https://quay.test/a.css',
  name: 'a.css',
  host: 'quay.test',
  kind: 'stylesheet',
  party: 'first',
  wireBytes: 1_234,
  found: 'in the HTML, line 3',
  renderBlocking: true,
  hold: 'holds',
  waitedMs: 321.4,
  gainMs: 120,
  startMs: 10,
  firstByteMs: 20,
  endMs: null,
  evidence: 'He said "=1", then left.',
} as unknown as MapAsset;

const input = {
  site: 'Quay <i>',
  page: 'Home',
  url: 'https://quay.test/',
  conditions: 'Slow phone',
  takenAt: '2026-11-03',
  sentence: 'First paint took 900 ms.',
  paintMs: 900,
  bill: [
    {
      kind: 'bytes' as const,
      code: 'arriving' as const,
      label: 'receiving a.css',
      why: 'W.',
      url: asset.url,
      startMs: 0,
      endMs: 900,
    },
  ],
  floor: { atMs: 400, measured: false, lines: [{ label: 'connecting', why: 'Two <trips>.', ms: 400 }] },
  metrics: [],
  assets: [asset],
  findings: [],
  footnotes: [
    { number: 2, text: 'Only <this> sign.', cites: [asset.url], line: null, atMs: null },
    { number: 3, text: 'Why so long?', cites: [], line: 'arriving https://quay.test/a.css', atMs: null },
    { number: 4, text: 'Nothing moves here.', cites: [], line: null, atMs: 640 },
  ],
  frames: [{ atMs: 900, completeness: 1, picture: 'data:image/jpeg;base64,AA==' }],
  quality: [],
};

it('is one file: no script, nothing from outside, everything escaped, footnotes beside what they cite', () => {
  const html = reportHtml(input);
  expect(html).not.toMatch(/<script|src="http|href=|@import|url\(/);
  expect(html).toContain('Quay &lt;i&gt;');
  expect(html).toContain('Only &lt;this&gt; sign.');
  expect(html).toContain('a.css <sup>2</sup>');
  expect(html).toContain('<td>receiving a.css <sup>3</sup> <sup>2</sup></td>');
  expect(html).toContain(
    '<h2>The floor: 400 ms</h2><table><tr><th>ms</th><th>What no treatment takes away</th><th>Why</th></tr><tr><td class="n">400</td><td>connecting</td><td>Two &lt;trips&gt;.</td></tr></table>',
  );
  expect(html).toContain('<b>3</b> Why so long? <small>“receiving a.css”</small>');
  expect(html).toContain('<b>4</b> Nothing moves here. <small>at 640 ms</small>');
  expect(html).toContain("default-src 'none'");
});

it('numbers what follows, and puts the numbers beside the lines of the bill that it would shorten', () => {
  const finding = (line: 'bytes' | 'connecting', sentence: string) => ({
    id: sentence,
    line,
    facts: { code: 'staff unknown' as const },
    sentence,
    urls: [asset.url],
    costMs: null,
  });
  const html = reportHtml({
    ...input,
    findings: [finding('connecting', 'A host <b>.'), finding('bytes', 'It is large.')],
  });
  expect(html).toContain('<ol><li>A host &lt;b&gt;.</li><li>It is large.</li></ol>');
  expect(html).toContain('W. <small>finding 2</small>');
});

it('writes CSV that any program reads, and no formula', () => {
  const [head, row] = assetsCsv([asset, { ...asset, name: 'b', found: '=HYPERLINK("x")' }]).split('\r\n');
  expect(head!.split(',').slice(0, 3)).toEqual(['url', 'kind', 'party']);
  expect(row).toBe(
    'https://quay.test/a.css,stylesheet,first,quay.test,1234,"in the HTML, line 3",true,holds,321.4,120,10,20,,"He said ""=1"", then left."',
  );
  expect(assetsCsv([{ ...asset, found: '=HYPERLINK("x")' }])).toContain(`"'=HYPERLINK(""x"")"`);
});
