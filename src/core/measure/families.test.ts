import { expect, it } from 'vitest';
import { guessFamilies } from './families.ts';

const page = (id: number, path: string, skeleton: string[] | null = null) => ({
  id,
  url: `https://quay.test${path}`,
  skeleton: skeleton && new Set(skeleton),
});

it('takes pages below one path for a family, and a page alone for none', () => {
  const families = guessFamilies([
    page(1, '/'),
    page(2, '/news/gales'),
    page(3, '/news/winter/'),
    page(4, '/routes/orrask'),
  ]);
  expect([...families]).toEqual([
    [1, ''],
    [2, 'news'],
    [3, 'news'],
    [4, ''],
  ]);
});

it('takes pages of nearly the same structure for a family, wherever they lie', () => {
  const frame = ['header.top', 'nav.menu', 'main.wide', 'table.times', 'footer.low'];
  const families = guessFamilies([
    page(1, '/orrask', frame),
    page(2, '/morvane', [...frame]),
    page(3, '/booking', ['form.cart', 'header.top']),
  ]);
  expect(families.get(1)).toBe(families.get(2));
  expect(families.get(1)).not.toBe('');
  expect(families.get(3)).toBe('');
});
