import { expect, it } from 'vitest';
import type { Discovery } from '../measure/discovery.ts';
import { broughtBy } from './brought-by.ts';

const imported = (url: string): Discovery => ({ by: 'stylesheet', url, line: 1 });

it('follows what each file brought, in whatever order they are listed, and ends where files bring each other', () => {
  const assets = [
    { url: 'font', discovery: imported('type') },
    { url: 'type', discovery: imported('site') },
    { url: 'site', discovery: imported('font') },
    { url: 'other', discovery: { by: 'navigation' } as const },
  ];
  expect(broughtBy(assets, 'site').sort()).toEqual(['font', 'type']);
  expect(broughtBy(assets, 'font').sort()).toEqual(['site', 'type']);
  expect(broughtBy(assets, 'other')).toEqual([]);
});
