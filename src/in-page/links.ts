/** Addresses that a page links, each with its text. */
export function linksOf(): [url: string, text: string][] {
  return [...document.querySelectorAll<HTMLAnchorElement>('a[href]')].map((one) => [
    one.href,
    one.textContent ?? '',
  ]);
}

/** The point of a link to an address at which it can be pressed where it stands now; null where there is no such link. */
export function linkPoint(url: string): { x: number; y: number } | 'out of reach' | null {
  const links = linksTo(url);
  for (const link of links) {
    const { left, top, width, height } = link.getBoundingClientRect();
    const [x, y] = [left + width / 2, top + height / 2];
    const there = width && height ? document.elementFromPoint(x, y) : null;
    if (there && link.contains(there)) return { x, y };
  }
  return links.length ? 'out of reach' : null;
}

/** Clicks the first link to an address, wherever it stands: in a menu that is closed, say. */
export function clickLink(url: string): void {
  linksTo(url)[0]?.click();
}

function linksTo(url: string): HTMLAnchorElement[] {
  const bare = (address: string) => address.replace(/#.*$/, '');
  return [...document.querySelectorAll<HTMLAnchorElement>('a[href]')].filter(
    (one) => bare(one.href) === bare(url),
  );
}

/** What the page keeps in this browser; nothing where it may not. */
export function storedItems(): [key: string, value: string][] {
  try {
    return Object.entries(localStorage);
  } catch {
    return [];
  }
}

/** When the page's own clock stood at 0, ms since 1970. */
export function timeOrigin(): number {
  return performance.timeOrigin;
}
