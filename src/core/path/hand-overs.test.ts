import { expect, it } from 'vitest';
import type { BillSegment } from './bill.ts';
import { handOversOf } from './hand-overs.ts';
import type { MapAsset } from './map.ts';

const PAGE = 'https://quay.test/';
const asset = (name: string, discovery: MapAsset['discovery'], found: string) =>
  ({ url: PAGE + name, name, discovery, found }) as MapAsset;
const segment = (url: string | undefined, startMs: number) => ({ url, startMs }) as BillSegment;

it('counts where the wait passes from one asset to the next, and which could not be asked for before', () => {
  const page = asset('', { by: 'navigation' }, 'by the address itself');
  const sheet = asset('a.css', { by: 'parser', document: PAGE, line: 4 }, 'in the HTML, line 4');
  const imported = asset('b.css', { by: 'stylesheet', url: sheet.url, line: 1 }, 'by a.css, line 1');
  const script = asset('c.js', { by: 'parser', document: PAGE, line: 5 }, 'in the HTML, line 5');
  const bill = [
    segment(page.url, 0),
    segment(page.url, 200),
    segment(sheet.url, 420),
    segment(undefined, 600),
    segment(imported.url, 610),
    segment(script.url, 900),
    segment(page.url, 950),
    segment(undefined, 980),
  ];
  expect(
    handOversOf(bill, [page, sheet, imported, script]).map((one) => [
      one.number,
      one.atMs,
      one.from.name,
      one.to.name,
      one.found,
      one.serial,
    ]),
  ).toEqual([
    [1, 420, '', 'a.css', 'in the HTML, line 4', true],
    [2, 610, 'a.css', 'b.css', 'by a.css, line 1', true],
    [3, 900, 'b.css', 'c.js', 'in the HTML, line 5', false],
  ]);
  expect(handOversOf(bill.slice(0, 2), [page])).toEqual([]);
});
