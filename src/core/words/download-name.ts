/**
 * What a download is called: "home-report-2026-11-29.html". No other page's and no other day's is called so, and it is
 * of letters that every system takes.
 *
 * @param page the page's name; one without such letters is called "page"
 */
export function downloadName(page: string, what: string, extension: string, on: Date): string {
  const letters = page
    .normalize('NFKD')
    .replace(/[^\w\s/-]/g, '')
    .replace(/[^a-z0-9]+/gi, '-')
    .replace(/^-+|-+$/g, '')
    .slice(0, 60)
    .toLowerCase();
  const day = [on.getFullYear(), on.getMonth() + 1, on.getDate()]
    .map((one) => String(one).padStart(2, '0'))
    .join('-');
  return `${letters || 'page'}-${what}-${day}.${extension}`;
}
