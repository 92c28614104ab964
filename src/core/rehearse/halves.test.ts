import { expect, it } from 'vitest';
import { gateUrl, inHalves } from './halves.ts';

const gate = gateUrl('https://quay.test/tides/');
const halves = (html: string) => {
  const found = inHalves(new TextEncoder().encode(html), gate);
  return (
    found &&
    new TextDecoder().decode(found).split('<script src="https://quay.test/wistrel/second-half.js"></script>')
  );
};

it('stops a page at the same element, whatever scripts and sheets stand around it', () => {
  expect(
    halves('<!DOCTYPE html><title>Quay</title><h1>A</h1><p class="lead">Bé</p><table><tr><td>C</table>'),
  ).toEqual([
    '<!DOCTYPE html><title>Quay</title><h1>A</h1><p class="lead">',
    'Bé</p><table><tr><td>C</table>',
  ]);
  expect(
    halves(
      '<!DOCTYPE html><title>Quay</title><script defer src="a.js"></script><h1>A</h1><noscript><p>No</p></noscript><p class="lead">B</p>',
    ),
  ).toEqual([
    '<!DOCTYPE html><title>Quay</title><script defer src="a.js"></script><h1>A</h1><noscript><p>No</p></noscript><p class="lead">',
    'B</p>',
  ]);
});

it('stops no page that has nothing to stop at', () => {
  expect(halves('<!DOCTYPE html><title>Quay</title><table><tr><td>C</table>')).toBeNull();
});
