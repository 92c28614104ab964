import { expect, it } from 'vitest';
import { readSitemap } from './sitemap.ts';

it('reads pages and further sitemaps, and leaves out what is no address', () => {
  const pages = readSitemap(
    '<?xml version="1.0"?><urlset xmlns="http://www.sitemaps.org/schemas/sitemap/0.9"><url><loc> https://quay.test/a?x=1&amp;y=2 </loc></url><url><loc>nowhere</loc></url></urlset>',
  );
  expect(pages).toEqual({ pages: ['https://quay.test/a?x=1&y=2'], sitemaps: [] });
  const index = readSitemap(
    '<sitemapindex><sitemap><loc>https://quay.test/s1.xml</loc></sitemap></sitemapindex>',
  );
  expect(index.sitemaps).toEqual(['https://quay.test/s1.xml']);
});

it('says when the XML is something else', () => {
  expect(() => readSitemap('<rss></rss>')).toThrow('no sitemap');
  expect(readSitemap('<urlset></urlset>').pages).toEqual([]);
});
