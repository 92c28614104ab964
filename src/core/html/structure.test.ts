import { describe, expect, it } from 'vitest';
import { bytesDownTo, structureOf } from './structure.ts';

const bytes = (html: string) => new TextEncoder().encode(html);

describe('the structure of a page', () => {
  it('is its elements with depth, tag, id and classes, those the parser puts in too', () => {
    expect(structureOf(bytes('<title>x</title><p id="a" class="c b">y<b>z</b>'))).toEqual([
      '0 html',
      '1 head',
      '2 title',
      '1 body',
      '2 p#a.b.c',
      '3 b',
    ]);
  });
});

describe('the bytes that hold the first elements', () => {
  const html = '<!DOCTYPE html><html><head></head><body><h1>é</h1><p>below</p></body></html>';

  it('end with the start tag of the last of them', () => {
    expect(bytesDownTo(bytes(html), 4)).toBe(html.indexOf('<h1>') + 4);
    // The é takes two bytes.
    expect(bytesDownTo(bytes(html), 3)).toBe(html.indexOf('<h1>'));
    expect(bytesDownTo(bytes(html), 5)).toBe(bytes(html).length);
  });

  it('are none where only the parser put them in, and all where there are fewer', () => {
    expect(bytesDownTo(bytes('<p>x'), 3)).toBe(0);
    expect(bytesDownTo(bytes('<p>x'), 99)).toBe(4);
  });
});
