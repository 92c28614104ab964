import type { Exchange } from '../../measure/exchange.ts';
import { contentEncodingOf, headerOf, headersOf, lifetimeOf } from '../../measure/headers.ts';
import { readServerTiming } from '../../measure/server-timing.ts';
import { PACKET_BYTES } from '../../network/link.ts';
import { hintsInVain } from '../../hints/own-hints.ts';
import { vainHintFacts } from '../../words/hints.ts';
import type { MapAsset } from '../map.ts';
import { hostOf } from '../names.ts';
import { ownerOf } from '../party.ts';
import type { FindingInput, FoundFact } from './finding.ts';

const TEXT = /^text\/|javascript|json|xml|svg/;
/** What fits into one packet takes one packet, compressed or not. */
const WORTH_COMPRESSING = PACKET_BYTES;
/** A server that takes a larger share of the paint than this is worth a word. */
const SLOW_SERVER = 0.08;
const WEEK_S = 7 * 86_400;

/** Files that are asked for one after another though they could be asked for side by side. */
export function serialChains({ map }: FindingInput): FoundFact[] {
  const byUrl = new Map(map.assets.map((asset) => [asset.url, asset]));
  const chainOf = (asset: MapAsset): MapAsset[] => {
    const chain = [asset];
    for (let at = asset; 'url' in at.discovery;) {
      const parent = byUrl.get(at.discovery.url);
      if (!parent || chain.includes(parent)) break;
      chain.unshift(parent);
      at = parent;
    }
    return chain;
  };
  const longestOf = (assets: readonly MapAsset[]) => {
    const chains = assets.map(chainOf);
    return chains.filter(
      (chain) =>
        chain.length > 1 &&
        !chains.some((other) => other.length > chain.length && chain.every((one) => other.includes(one))),
    );
  };
  // A font at the end of a chain of sheets does not hide that the paint waits for the sheets.
  const holding = longestOf(map.assets.filter((asset) => asset.hold === 'holds'));
  const beside = longestOf(map.assets.filter((asset) => asset.hold !== 'after')).filter(
    (chain) => chain.at(-1)!.hold !== 'holds',
  );
  return [...holding, ...beside].flatMap((chain): FoundFact[] => {
    const [first, last] = [chain[0]!, chain.at(-1)!];
    // What the first itself waited for, before it came or was put to use, is no matter of the chain.
    const firstWas = first.ranMs ? 'run' : first.readMs ? 'read' : 'there';
    const firstMs = Math.max(first.endMs ?? first.startMs, (first.ranMs ?? first.readMs)?.start ?? 0);
    const lateMs = (last.endMs ?? last.startMs) - firstMs;
    if (lateMs < 20) return [];
    const urls = chain.map((one) => one.url);
    return [
      {
        id: `chain ${last.url}`,
        line: last.hold === 'holds' ? 'waiting' : 'after the paint',
        facts: { code: 'chain', urls, lateMs, firstWas, last: last.kind },
        urls,
        costMs: last.hold === 'holds' ? lateMs : null,
      },
    ];
  });
}

/** Hosts that were connected to before the paint: the list for preconnect. */
export function earlyHosts({ map, conditions }: FindingInput): FoundFact[] {
  const paint = map.target?.atMs ?? Infinity;
  const own = map.assets.find((asset) => asset.kind === 'document')?.host;
  const seen = new Map<string, MapAsset[]>();
  for (const asset of map.assets)
    if (asset.host && asset.host !== own && asset.startMs < paint)
      seen.set(asset.host, [...(seen.get(asset.host) ?? []), asset]);
  return [...seen].flatMap(([host, assets]): FoundFact[] => {
    const connecting = assets.find((asset) => asset.connectMs);
    if (!connecting?.connectMs) return [];
    const cost = connecting.connectMs.end - connecting.connectMs.start;
    const holding = assets.filter((asset) => asset.hold === 'holds');
    const trips = Math.max(1, Math.round(cost / Math.max(1, conditions.roundTripMs)));
    return [
      {
        id: `host ${host}`,
        line: 'connecting',
        facts: {
          code: 'host',
          host,
          atMs: connecting.connectMs.start,
          tookMs: cost,
          trips,
          holding: holding.map((one) => one.url),
          paint: map.target,
        },
        urls: assets.map((one) => one.url),
        costMs: holding.length ? Math.max(0, ...holding.map((one) => one.gainMs ?? 0)) : null,
      },
    ];
  });
}

/** What the page says ahead of hosts, and helps nothing. */
export function vainHints({ capture, html, map }: FindingInput): FoundFact[] {
  const requests = [...map.assets, ...capture.exchanges];
  return hintsInVain({ document: html, documentUrl: capture.documentUrl, requests }).map(
    (hint): FoundFact => ({
      id: `hint ${hint.rel} ${hint.origin} ${hint.sort} ${hint.element.line}`,
      line: 'connecting',
      facts: { code: 'hint in vain', ...vainHintFacts(hint) },
      urls: [],
      costMs: null,
    }),
  );
}

/** Third parties by their owner: what they bring, and what they delay. */
export function thirdParties({ map, work, owners }: FindingInput): FoundFact[] {
  const groups = new Map<string, MapAsset[]>();
  for (const asset of map.assets) {
    if (asset.party !== 'third') continue;
    const domain = ownerOf(asset.url);
    const owner = owners.get(domain) ?? domain;
    groups.set(owner, [...(groups.get(owner) ?? []), asset]);
  }
  return [...groups].map(([owner, assets]): FoundFact => {
    const urls = new Set(assets.map((one) => one.url));
    const ranMs = ranFor(work, urls);
    const size = assets.reduce((sum, one) => sum + one.wireBytes, 0);
    const holding = assets.filter((one) => one.hold === 'holds');
    const early = assets.filter((one) => one.hold === 'crowds');
    return {
      id: `party ${owner}`,
      line: holding.length ? 'waiting' : early.length ? 'bytes' : 'after the paint',
      facts: {
        code: 'party',
        owner,
        requests: assets.length,
        bytes: size,
        ranMs,
        holding: holding.map((one) => one.url),
        early: early.length,
        paint: map.target,
      },
      urls: [...urls],
      costMs: holding.length ? Math.max(0, ...holding.map((one) => one.gainMs ?? 0)) : null,
      domains: [...new Set(assets.map((one) => ownerOf(one.url)))],
    };
  });
}

/** How long scripts of these addresses ran on the page's main thread, ms. */
function ranFor(work: FindingInput['work'], urls: ReadonlySet<string>): number {
  return work
    .filter((one) => (one.kind === 'evaluate' || one.kind === 'call') && one.url && urls.has(one.url))
    .reduce((sum, one) => sum + one.endMs - one.startMs, 0);
}

/** Text that came uncompressed. */
export function uncompressedText({ capture, map }: FindingInput): FoundFact[] {
  const plain = capture.exchanges.filter(
    (one) =>
      TEXT.test(one.mimeType) && one.bodyBytes > WORTH_COMPRESSING && !contentEncodingOf(one.responseHeaders),
  );
  if (plain.length === 0) return [];
  const size = plain.reduce((sum, one) => sum + one.bodyBytes, 0);
  const urls = plain.map((one) => one.url);
  const held = plain.some((one) => map.assets.find((asset) => asset.url === one.url)?.hold === 'holds');
  return [
    {
      id: 'plain on the wire',
      line: held ? 'bytes' : 'after the paint',
      facts: { code: 'plain on the wire', urls, bytes: size },
      urls,
      costMs: null,
    },
  ];
}

/** Files that a return visit asks for again though they hardly change. */
export function shortLifetimes({ capture }: FindingInput): FoundFact[] {
  const short = capture.exchanges.filter((one) => {
    if (!/^(script|stylesheet|font|image)$/.test(one.kind) || one.status !== 200) return false;
    const age = lifetimeOf(one.responseHeaders);
    return age === null || age < WEEK_S;
  });
  if (short.length === 0) return [];
  const size = short.reduce((sum, one) => sum + one.wireBytes, 0);
  return [
    {
      id: 'kept too short',
      line: 'after the paint',
      facts: { code: 'kept too short', files: short.length, bytes: size },
      urls: short.map((one) => one.url),
      costMs: null,
    },
  ];
}

/** The server's own time, and what it says of it. */
export function serverTime({ capture, map }: FindingInput): FoundFact[] {
  const page = capture.exchanges.find((one) => one.url === capture.documentUrl);
  if (!page || !map.target || page.serverMs < map.target.atMs * SLOW_SERVER) return [];
  const said = readServerTiming(headersOf(page.responseHeaders, 'server-timing'));
  return [
    {
      id: 'server',
      line: 'server',
      facts: { code: 'server', serverMs: page.serverMs, said },
      urls: [page.url],
      costMs: map.target ? page.serverMs : null,
    },
  ];
}

/** Assets of one kind that come from different places, though most come from one. */
export function scatteredPlaces({ map }: FindingInput): FoundFact[] {
  // Scripts come from anywhere by their nature.
  const kinds = ['font', 'stylesheet'] as const;
  return kinds.flatMap((kind): FoundFact[] => {
    const own = map.assets.filter((asset) => asset.kind === kind && asset.hold !== 'after');
    const hosts = new Map<string, MapAsset[]>();
    for (const asset of own) hosts.set(asset.host, [...(hosts.get(asset.host) ?? []), asset]);
    const [most, ...rest] = [...hosts].sort((a, b) => b[1].length - a[1].length);
    const odd = rest.filter(([, assets]) => assets.length === 1 && most![1].length > 1);
    if (!most || odd.length !== 1) return [];
    const [host, assets] = odd[0]!;
    return [
      {
        id: `scattered ${kind}`,
        line: 'connecting',
        facts: {
          code: 'scattered',
          kind,
          most: most[1].length,
          place: most[0],
          url: assets[0]!.url,
          host,
        },
        urls: assets.map((one) => one.url),
        costMs: null,
      },
    ];
  });
}

/** Files that a cache near the visitor never answers, though it answers most of their kind from the same host. */
export function pastTheEdge({ map, capture }: FindingInput): FoundFact[] {
  const groups = new Map<string, Exchange[]>();
  for (const one of capture.exchanges) {
    if (!/^(script|stylesheet|font|image)$/.test(one.kind) || one.outcome.state !== 'answered') continue;
    const group = `${one.kind} ${hostOf(one.url)}`;
    groups.set(group, [...(groups.get(group) ?? []), one]);
  }
  return [...groups].flatMap(([group, all]): FoundFact[] => {
    const past = all.filter((one) => !cameFromCache(one));
    if (past.length === 0 || past.length * 2 >= all.length) return [];
    const [kind, host] = group.split(' ') as [string, string];
    const holding = past.some((one) => map.assets.find((asset) => asset.url === one.url)?.hold === 'holds');
    const urls = past.map((one) => one.url);
    const slowestMs = Math.max(...past.map((one) => one.serverMs));
    return [
      {
        id: `past the edge ${group}`,
        line: holding ? 'server' : 'after the paint',
        facts: { code: 'past the edge', kind, host, all: all.length, past: urls, slowestMs },
        urls,
        costMs: null,
      },
    ];
  });
}

/** Whether a shared cache answered (RFC 9211, `hit`; RFC 9111, 5.1: only a cache sends Age). */
function cameFromCache(exchange: Exchange): boolean {
  const status = headerOf(exchange.responseHeaders, 'cache-status');
  if (status !== undefined) return /;\s*hit\b/i.test(status);
  return Number(headerOf(exchange.responseHeaders, 'age') ?? 0) > 0;
}

/** Documents within the page and all that they bring. */
export function embeds({ map, work }: FindingInput): FoundFact[] {
  return map.assets
    .filter((asset) => asset.kind === 'embed')
    .map((asset): FoundFact => {
      const owner = ownerOf(asset.url);
      const brought = map.assets.filter((one) => ownerOf(one.url) === owner);
      const size = brought.reduce((sum, one) => sum + one.wireBytes, 0);
      const ranMs = ranFor(work, new Set(brought.map((one) => one.url)));
      return {
        id: `embed ${asset.url}`,
        line: asset.hold === 'after' ? 'after the paint' : 'bytes',
        facts: {
          code: 'embed',
          url: asset.url,
          requests: brought.length,
          bytes: size,
          ranMs,
          startMs: asset.startMs,
        },
        urls: brought.map((one) => one.url),
        costMs: null,
      };
    });
}
