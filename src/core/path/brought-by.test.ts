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

it('are what a frame’s page names, also where the frame was sent on to another address', () => {
  const inPage = (document: string) => ({ by: 'parser' as const, document, line: 1 });
  const requests = [
    { id: '1', url: 'page', discovery: { by: 'navigation' as const } },
    { id: '2', url: 'hero', discovery: inPage('page') },
    { id: '3', url: 'map', discovery: inPage('page') },
    { id: '3:5', url: 'map/', discovery: inPage('page') },
    { id: '4', url: 'tiles', discovery: inPage('map/') },
    { id: '6', url: 'pin', discovery: { by: 'script' as const, url: 'tiles', line: 1 } },
  ];
  expect(broughtBy(requests, 'map')).toEqual(['map/', 'tiles', 'pin']);
});
