/** Addresses that a page links, each with its text. */
export function linksOf(): [url: string, text: string][] {
  return [...document.querySelectorAll<HTMLAnchorElement>('a[href]')].map((one) => [
    one.href,
    one.textContent ?? '',
  ]);
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
