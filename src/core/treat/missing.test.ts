import { expect, it } from 'vitest';
import { madePage } from '../../../tests/engine/made-capture.ts';
import { readPageAssets } from '../page/page-assets.ts';
import { missingFiles, missingSentence } from './missing.ts';

it('says what the capture does not hold, and what that keeps from being done', () => {
  const html =
    '<link rel="stylesheet" href="a.css"><script src="https://away.test/x.js"></script><script src="https://away.test/x.js"></script><script src="own.js"></script><script>1</script>';
  const files = { 'a.css': 'p { margin: 0 }', 'own.js': 'own();' };
  const missing = missingFiles(readPageAssets(madePage(html, files), []));
  expect(missing).toEqual(['https://away.test/x.js']);
  expect(missingSentence(missing)).toBe(
    'The capture does not hold x.js, as its host did not answer. What it does cannot be known, so it stays as it is, and no script changes places with it. Measure the page again when it answers.',
  );
  const many = ['a', 'b', 'c', 'd', 'e'].map((name) => `https://away.test/${name}.js`);
  expect(missingSentence(many)).toMatch(
    /^The capture does not hold a\.js, b\.js, c\.js, d\.js and 1 more, as their hosts/,
  );
  expect(missingSentence([])).toBeNull();
});
