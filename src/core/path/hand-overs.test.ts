import { expect, it } from 'vitest';
import type { BillSegment } from './bill.ts';
import { handOversOf } from './hand-overs.ts';
import type { MapAsset } from './map.ts';

const PAGE = 'https://quay.test/';
const asset = (name: string, discovery: MapAsset['discovery'], found: string) =>
  ({ url: PAGE + name, name, discovery, found }) as MapAsset;
/** A bill of segments that follow each other, the last one up to a moment. */
const billOf = (untilMs: number, ...all: [url: string | undefined, startMs: number][]) =>
  all.map(([url, startMs], index) => ({
    url,
    startMs,
    endMs: all[index + 1]?.[1] ?? untilMs,
  })) as BillSegment[];

it('counts where the wait passes from one asset to the next, and which could not be asked for before', () => {
  const page = asset('', { by: 'navigation' }, 'by the address itself');
  const sheet = asset('a.css', { by: 'parser', document: PAGE, line: 4 }, 'in the HTML, line 4');
  const imported = asset('b.css', { by: 'stylesheet', url: sheet.url, line: 1 }, 'by a.css, line 1');
  const script = asset('c.js', { by: 'parser', document: PAGE, line: 5 }, 'in the HTML, line 5');
  const bill = billOf(
    1_000,
    [page.url, 0],
    [page.url, 200],
    [sheet.url, 420],
    [undefined, 600],
    [imported.url, 610],
    [script.url, 900],
    [page.url, 950],
    [undefined, 980],
  );
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

it('passes over an asset that handed on at once, and still knows who named the next one', () => {
  const page = asset('', { by: 'navigation' }, 'by the address itself');
  const sheet = asset('a.css', { by: 'parser', document: PAGE, line: 4 }, 'in the HTML, line 4');
  const imported = asset('b.css', { by: 'stylesheet', url: sheet.url, line: 1 }, 'by a.css, line 1');
  const bill = billOf(900, [page.url, 0], [sheet.url, 600], [imported.url, 612]);
  expect(
    handOversOf(bill, [page, sheet, imported]).map((one) => [
      one.number,
      one.from.name,
      one.to.name,
      one.serial,
    ]),
  ).toEqual([[1, 'a.css', 'b.css', true]]);
});
