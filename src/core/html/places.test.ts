import { describe, expect, it } from 'vitest';
import { bytesDownTo, readHtml, structureOf } from './document.ts';

const read = (html: string) => readHtml(new TextEncoder().encode(html));

describe('the structure of a page', () => {
  it('is its elements with depth, tag, id and classes, those the parser puts in too', () => {
    expect(structureOf(read('<title>x</title><p id="a" class="c b">y<b>z</b>'))).toEqual([
      '0 html',
      '1 head',
      '2 title',
      '1 body',
      '2 p#a.b.c',
      '3 b',
    ]);
  });
});

it('holds neither what is in a template nor in noscript, as with scripts nobody sees it', () => {
  const html =
    '<head><noscript><img src="count.gif"></noscript><link rel="icon"></head><body><template><p></p></template><i>x</i>';
  expect(structureOf(read(html))).toEqual([
    '0 html',
    '1 head',
    '2 noscript',
    '2 link',
    '1 body',
    '2 template',
    '2 i',
  ]);
  expect(read(html).elements.find((one) => one.tag === 'link')!.inHead).toBe(true);
});

it('is read however deeply elements lie in each other', () => {
  const depth = 30_000;
  const html = `${'<div>'.repeat(depth)}<img src="a.png">`;
  const places = read(html).places;
  expect(places.at(-1)!.name).toBe('img');
  expect(places.length).toBe(depth + 4);
});

describe('the bytes that hold the first elements', () => {
  const html = '<!DOCTYPE html><html><head></head><body><h1>é</h1><p>below</p></body></html>';

  it('end with the start tag of the last of them', () => {
    expect(bytesDownTo(read(html), 4)).toBe(html.indexOf('<h1>') + 4);
    // The é takes two bytes.
    expect(bytesDownTo(read(html), 3)).toBe(html.indexOf('<h1>'));
    expect(bytesDownTo(read(html), 5)).toBe(read(html).bytes.length);
  });

  it('are none where only the parser put them in, and all where there are fewer', () => {
    expect(bytesDownTo(read('<p>x'), 3)).toBe(0);
    expect(bytesDownTo(read('<p>x'), 99)).toBe(4);
  });
});
