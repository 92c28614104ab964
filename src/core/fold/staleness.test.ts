import { describe, expect, it } from 'vitest';
import { readHtml, structureOf } from '../html/document.ts';
import { changesSince } from './staleness.ts';

const page = (body: string) =>
  structureOf(readHtml(new TextEncoder().encode(`<!DOCTYPE html><body>${body}</body>`)));
const sheets = (hash: string) => [{ url: 'https://quay.test/css/a.css', hash }];
/** html, head, body and the header with two links in it lie above the fold. */
const ABOVE = 6;
const made = {
  sheets: sheets('1'),
  structure: page('<header id="top"><a class="b a">x</a><a>y</a></header><p>z</p>').slice(0, ABOVE),
};

describe('a set of fold CSS', () => {
  it.each([
    ['texts', '<header id="top"><a class="b a">other</a><a>words</a></header><p>z</p>'],
    ['the order of classes', '<header id="top"><a class="a b">x</a><a>y</a></header><p>z</p>'],
    ['other attributes', '<header id="top"><a class="b a" href="/">x</a><a>y</a></header><p>z</p>'],
    ['what lies below', '<header id="top"><a class="b a">x</a><a>y</a></header><p class="new">z</p><p>w</p>'],
  ])('still holds when %s change', (_what, body) => {
    expect(changesSince(made, { sheets: sheets('1'), structure: page(body) })).toEqual([]);
  });

  it('is out of date when a sheet changes, comes or goes', () => {
    const same = page('<header id="top"><a class="b a">x</a><a>y</a></header>');
    expect(changesSince(made, { sheets: sheets('2'), structure: same })).toEqual([
      'The stylesheet a.css has changed.',
    ]);
    expect(
      changesSince(made, { sheets: [{ url: 'https://quay.test/b.css', hash: '1' }], structure: same }),
    ).toEqual(['The stylesheet a.css is gone.', 'The stylesheet b.css is new.']);
  });

  it('is out of date when elements above the fold change, and says which', () => {
    const now = page('<header id="top"><a class="b">x</a><i>!</i><a>y</a></header><p>z</p>');
    expect(changesSince(made, { sheets: sheets('1'), structure: now })).toEqual([
      'No longer above the fold: a.a.b.',
      'New above the fold: a.b.',
      'New above the fold: i.',
    ]);
  });

  it('counts what it does not tell one by one', () => {
    const now = page(`<header id="top">${'<b></b>'.repeat(9)}<a class="b a">x</a><a>y</a></header>`);
    const told = changesSince(made, { sheets: sheets('1'), structure: now });
    expect(told).toHaveLength(5);
    expect(told.at(-1)).toBe('And 5 more elements changed.');
  });
});
