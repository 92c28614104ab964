import { expect, it } from 'vitest';
import { shortHost } from './names.ts';

it('tells hosts apart in a word, and an address by all of it', () => {
  expect(['www.quay.test', 'cdn.quay.test:8443', '127.0.0.1:4991', '[::1]:80'].map(shortHost)).toEqual([
    'www',
    'cdn',
    '127.0.0.1:4991',
    '[::1]:80',
  ]);
});
