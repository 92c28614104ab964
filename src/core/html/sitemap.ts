import { XMLParser } from 'fast-xml-parser';

/** What a sitemap names: pages, and further sitemaps (sitemaps.org protocol 0.9). */
export interface Sitemap {
  pages: string[];
  sitemaps: string[];
}

type Tree = Record<string, { url?: Located[]; sitemap?: Located[] } | undefined>;

/** Reads a sitemap or a sitemap index. @throws Error when the XML is neither, or is broken */
export function readSitemap(xml: string): Sitemap {
  const parser = new XMLParser({
    ignoreAttributes: true,
    removeNSPrefix: true,
    isArray: (name) => name === 'url' || name === 'sitemap',
  });
  let tree: Tree;
  try {
    tree = parser.parse(xml) as Tree;
  } catch {
    throw new Error('Its XML is damaged, or breaks off.');
  }
  const { urlset, sitemapindex } = tree;
  if (urlset === undefined && sitemapindex === undefined) throw new Error('This XML is no sitemap.');
  const places = (list: Located[] | undefined) =>
    (list ?? []).flatMap((one) =>
      typeof one?.loc === 'string' && URL.canParse(one.loc.trim()) ? [one.loc.trim()] : [],
    );
  return {
    pages: places((urlset || undefined)?.url),
    sitemaps: places((sitemapindex || undefined)?.sitemap),
  };
}

interface Located {
  loc?: unknown;
}
