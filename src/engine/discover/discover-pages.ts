import { BUILT_IN_CONDITIONS } from '../../core/measure/conditions.ts';
import { readSitemap } from '../../core/html/sitemap.ts';
import { trustedByUser, type AcceptedCertificate } from '../chromium/certificates.ts';
import { intercept, isEndless, noHindrances, type Answer } from '../capture/intercept.ts';
import { launchChromium } from '../chromium/launch.ts';
import { LOAD_LIMITS, openVisit, settled } from '../chromium/visit.ts';
import { stopIfCancelled, Trouble } from '../errors.ts';

export interface DiscoverRequest {
  /** A page, whose links are taken, or a sitemap. */
  url: string;
  /** At most so many pages. */
  limit: number;
  accepted: readonly AcceptedCertificate[];
  onProgress?: (step: string, done: number, of: number) => void;
  signal?: AbortSignal;
}

/** A page that was found, and what it is called there. */
export interface FoundPage {
  url: string;
  name: string;
}

const MOST_SITEMAPS = 20;
const NO_PAGE = /\.(pdf|zip|gz|jpe?g|png|gif|webp|avif|svg|mp4|webm|mp3|css|js|json|xml|txt|ics)$/i;

/**
 * Finds pages of one site: by the links on a page as it is after its scripts ran, or by a sitemap.
 *
 * @throws Trouble when the address gives neither
 */
export async function discoverPages(request: DiscoverRequest): Promise<FoundPage[]> {
  const chromium = await launchChromium({ acceptedKeys: request.accepted.map((one) => one.publicKeyHash) });
  const { origin } = new URL(request.url);
  const found = new Map<string, string>();
  const add = (address: string, name: string) => {
    if (found.size >= request.limit || !URL.canParse(address)) return;
    const url = new URL(address);
    url.hash = '';
    if (url.origin !== origin || NO_PAGE.test(url.pathname) || found.has(url.href)) return;
    found.set(url.href, name.trim().replace(/\s+/g, ' ').slice(0, 120) || url.pathname);
  };
  try {
    const queue = [request.url];
    for (let read = 0; queue.length > 0 && read < MOST_SITEMAPS; read++) {
      const url = queue.shift()!;
      stopIfCancelled(request.signal);
      request.onProgress?.(`Reading ${new URL(url).pathname}`, read, read + queue.length + 1);
      const answers: Answer[] = [];
      const hindrances = noHindrances();
      const visit = await openVisit(chromium.browser, BUILT_IN_CONDITIONS.at(-1)!, {
        prepare: (session, isPage) =>
          intercept(session, isPage, { answers, add: null, hindrances, browser: chromium.browser }),
        clock: null,
        state: null,
      });
      try {
        const response = await visit.page
          .goto(url, { waitUntil: 'load', timeout: LOAD_LIMITS.loadMs })
          .catch((error: Error) => {
            if (isEndless(visit.network.records, hindrances))
              throw new Trouble(
                'measuring',
                `${url} is over 25 MB when it is unpacked. Nothing was added. Give a sitemap, or a page, of a size that sites have.`,
              );
            throw new Trouble(
              'measuring',
              `${url} could not be read (${/net::(\w+)/.exec(error.message)?.[1] ?? 'no answer'}). Nothing was added.`,
            );
          });
        await trustedByUser(visit.network.secureHosts, request.accepted);
        if (!response || response.status() >= 400)
          throw new Trouble(
            'measuring',
            `${url} answered ${response?.status() ?? 'nothing'}. Nothing was added.`,
          );
        if (/xml/.test(response.headers()['content-type'] ?? '') || /\.xml$/i.test(new URL(url).pathname)) {
          const body = answers.findLast((one) => one.url === response.url())?.body;
          const sitemap = readSitemap(new TextDecoder().decode(body ?? new Uint8Array()));
          for (const page of sitemap.pages) add(page, '');
          queue.push(...sitemap.sitemaps.filter((one) => new URL(one).origin === origin));
        } else {
          await settled(visit, { ...LOAD_LIMITS, afterLoadMs: 5_000, quietMs: 500 }, request.signal);
          add(url, await visit.page.title());
          for (const [address, name] of await visit.inPage.call('linksOf')) add(address, name);
        }
      } finally {
        await visit.close();
      }
    }
  } catch (error) {
    if (error instanceof Trouble) throw error;
    throw new Trouble(
      'input',
      `${request.url} could not be read for pages: ${error instanceof Error ? error.message : String(error)} Nothing was added.`,
    );
  } finally {
    await chromium.close();
  }
  return [...found].map(([url, name]) => ({ url, name }));
}
