import type { Exchange } from '../../measure/exchange.ts';
import { contentEncodingOf, headerOf, headersOf } from '../../measure/headers.ts';
import { readServerTiming, type ServerMetric } from '../../measure/server-timing.ts';
import { PACKET_BYTES } from '../../network/link.ts';
import type { MapAsset } from '../map.ts';
import { fileNameOf, hostOf, ownerOf } from '../party.ts';
import { bytes, count, ms, paintName } from '../words.ts';
import type { Finding, FindingInput } from './finding.ts';

const TEXT = /^text\/|javascript|json|xml|svg/;
/** What fits into one packet takes one packet, compressed or not. */
const WORTH_COMPRESSING = PACKET_BYTES;
/** A server that takes a larger share of the paint than this is worth a word. */
const SLOW_SERVER = 0.08;
const WEEK_S = 7 * 86_400;

/** Files that are asked for one after another though they could be asked for side by side. */
export function serialChains({ map }: FindingInput): Finding[] {
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
  return [...holding, ...beside].flatMap((chain): Finding[] => {
    const [first, last] = [chain[0]!, chain.at(-1)!];
    // What the first itself waited for, before it came or was put to use, is no matter of the chain.
    const used = first.ranMs ? 'ran' : first.readMs ? 'was read' : 'had come';
    const firstMs = Math.max(first.endMs ?? first.startMs, (first.ranMs ?? first.readMs)?.start ?? 0);
    const lateMs = (last.endMs ?? last.startMs) - firstMs;
    if (lateMs < 20) return [];
    const names = chain.map((one) => one.name).join(', then ');
    const what =
      last.kind === 'font'
        ? 'A preload for the font lets it start with the stylesheet.'
        : last.kind === 'stylesheet'
          ? 'Linked in the HTML they would load side by side.'
          : 'What is asked for late could be asked for by the HTML.';
    return [
      {
        id: `chain ${last.url}`,
        line: last.hold === 'holds' ? 'waiting' : 'after the paint',
        sentence: `${names}: each could be asked for only when the one before was there; the last came ${ms(lateMs)} after the first ${used}. ${what}`,
        urls: chain.map((one) => one.url),
        costMs: last.hold === 'holds' ? lateMs : null,
      },
    ];
  });
}

/** Hosts that were connected to before the paint: the list for preconnect. */
export function earlyHosts({ map, conditions }: FindingInput): Finding[] {
  const paint = map.target?.atMs ?? Infinity;
  const own = map.assets.find((asset) => asset.kind === 'document')?.host;
  const seen = new Map<string, MapAsset[]>();
  for (const asset of map.assets)
    if (asset.host && asset.host !== own && asset.startMs < paint)
      seen.set(asset.host, [...(seen.get(asset.host) ?? []), asset]);
  return [...seen].flatMap(([host, assets]): Finding[] => {
    const connecting = assets.find((asset) => asset.connectMs);
    if (!connecting?.connectMs) return [];
    const cost = connecting.connectMs.end - connecting.connectMs.start;
    const holding = assets.filter((asset) => asset.hold === 'holds');
    const trips = Math.max(1, Math.round(cost / Math.max(1, conditions.roundTripMs)));
    return [
      {
        id: `host ${host}`,
        line: 'connecting',
        sentence: `${host} is connected to ${ms(connecting.connectMs.start)} after the navigation began, for ${ms(cost)} (${trips} round ${trips === 1 ? 'trip' : 'trips'})${
          holding.length
            ? `; ${paintName(map.target)} waits for ${holding.map((one) => one.name).join(', ')} from there.`
            : `; nothing that ${paintName(map.target)} waits for comes from there.`
        }`,
        urls: assets.map((one) => one.url),
        costMs: holding.length ? Math.max(0, ...holding.map((one) => one.gainMs ?? 0)) : null,
      },
    ];
  });
}

/** Third parties by their owner: what they bring, and what they delay. */
export function thirdParties({ map, work, owners }: FindingInput): Finding[] {
  const groups = new Map<string, MapAsset[]>();
  for (const asset of map.assets) {
    if (asset.party !== 'third') continue;
    const domain = ownerOf(asset.url);
    const owner = owners.get(domain) ?? domain;
    groups.set(owner, [...(groups.get(owner) ?? []), asset]);
  }
  return [...groups].map(([owner, assets]): Finding => {
    const urls = new Set(assets.map((one) => one.url));
    const ranMs = ranFor(work, urls);
    const size = assets.reduce((sum, one) => sum + one.wireBytes, 0);
    const holding = assets.filter((one) => one.hold === 'holds');
    const early = assets.filter((one) => one.hold === 'crowds');
    const does = holding.length
      ? `${paintName(map.target)} waits for ${holding.map((one) => one.name).join(', ')}`
      : early.length
        ? `${early.length < assets.length ? `${early.length} of them` : 'asked for'} before ${paintName(map.target)}, not required for it`
        : `all after ${paintName(map.target)}`;
    return {
      id: `party ${owner}`,
      line: holding.length ? 'waiting' : early.length ? 'bytes' : 'after the paint',
      sentence: `${owner}: ${assets.length} ${assets.length === 1 ? 'request' : 'requests'}, ${bytes(size)}, ${ms(ranMs)} on the main thread; ${does}.`,
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
export function uncompressedText({ capture, map }: FindingInput): Finding[] {
  const plain = capture.exchanges.filter(
    (one) =>
      TEXT.test(one.mimeType) && one.bodyBytes > WORTH_COMPRESSING && !contentEncodingOf(one.responseHeaders),
  );
  if (plain.length === 0) return [];
  const size = plain.reduce((sum, one) => sum + one.bodyBytes, 0);
  const held = plain.some((one) => map.assets.find((asset) => asset.url === one.url)?.hold === 'holds');
  return [
    {
      id: 'plain on the wire',
      line: held ? 'bytes' : 'after the paint',
      sentence: `${plain.length} text ${plain.length === 1 ? 'file comes' : 'files come'} uncompressed, ${bytes(size)}: ${plain
        .slice(0, 4)
        .map((one) => fileNameOf(one.url))
        .join(', ')}${plain.length > 4 ? ' and others' : ''}.`,
      urls: plain.map((one) => one.url),
      costMs: null,
    },
  ];
}

/** Files that a return visit asks for again though they hardly change. */
export function shortLifetimes({ capture }: FindingInput): Finding[] {
  const short = capture.exchanges.filter((one) => {
    if (!/^(script|stylesheet|font|image)$/.test(one.kind) || one.status !== 200) return false;
    const age = lifetimeOf(one);
    return age === null || age < WEEK_S;
  });
  if (short.length === 0) return [];
  const size = short.reduce((sum, one) => sum + one.wireBytes, 0);
  return [
    {
      id: 'kept too short',
      line: 'after the paint',
      sentence: `${short.length} ${short.length === 1 ? 'file' : 'files'} (${bytes(size)}) ${short.length === 1 ? 'is' : 'are'} kept for less than a week or not at all: return visits pay for ${short.length === 1 ? 'it' : 'them'} again.`,
      urls: short.map((one) => one.url),
      costMs: null,
    },
  ];
}

/** For how long an answer may be used again without asking, s (RFC 9111, 4.2.1); null where it does not say. */
function lifetimeOf(exchange: Exchange): number | null {
  const control = headerOf(exchange.responseHeaders, 'cache-control') ?? '';
  if (/no-store|no-cache/i.test(control)) return 0;
  const age = /max-age\s*=\s*"?(\d+)/i.exec(control)?.[1];
  if (age !== undefined) return Number(age);
  const expires = headerOf(exchange.responseHeaders, 'expires');
  if (expires === undefined) return null;
  const lasts = (Date.parse(expires) - Date.parse(headerOf(exchange.responseHeaders, 'date') ?? '')) / 1_000;
  // A date that cannot be read means that it is stale already.
  return Number.isFinite(lasts) ? Math.max(0, lasts) : 0;
}

/** The server's own time, and what it says of it. */
export function serverTime({ capture, map }: FindingInput): Finding[] {
  const page = capture.exchanges.find((one) => one.url === capture.documentUrl);
  if (!page || !map.target || page.serverMs < map.target.atMs * SLOW_SERVER) return [];
  const said = readServerTiming(headersOf(page.responseHeaders, 'server-timing'));
  return [
    {
      id: 'server',
      line: 'server',
      sentence: `The server took ${ms(page.serverMs)} of its own for the page; ${itemised(said, page.serverMs)}.`,
      urls: [page.url],
      costMs: map.target ? page.serverMs : null,
    },
  ];
}

/** What a server says of its time, and how much of it that leaves open. */
function itemised(said: readonly ServerMetric[], serverMs: number): string {
  if (said.length === 0) return 'it says nothing of it (no Server-Timing header)';
  const parts = said.map(({ name, description, durationMs }) =>
    [description || name, durationMs === null ? '' : ms(durationMs)].join(' ').trim(),
  );
  const told = said.reduce((sum, one) => sum + (one.durationMs ?? 0), 0);
  // Parts may lie within each other: then they come to more than all of it.
  const open = told > 0 && serverMs - told >= 1 ? `, which leaves ${ms(serverMs - told)} open` : '';
  return `it says of it: ${parts.join(', ')}${open}`;
}

/** Assets of one kind that come from different places, though most come from one. */
export function scatteredPlaces({ map }: FindingInput): Finding[] {
  // Scripts come from anywhere by their nature.
  const kinds = ['font', 'stylesheet'] as const;
  return kinds.flatMap((kind): Finding[] => {
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
        sentence: `${count(most[1].length)} ${kind}s come from ${most[0]}, only ${assets[0]!.name} from ${host}: served from the same place it would need no connection of its own.`,
        urls: assets.map((one) => one.url),
        costMs: null,
      },
    ];
  });
}

/** Files that a cache near the visitor never answers, though it answers most of their kind from the same host. */
export function pastTheEdge({ map, capture }: FindingInput): Finding[] {
  const groups = new Map<string, Exchange[]>();
  for (const one of capture.exchanges) {
    if (!/^(script|stylesheet|font|image)$/.test(one.kind) || one.outcome.state !== 'answered') continue;
    const group = `${one.kind} ${hostOf(one.url)}`;
    groups.set(group, [...(groups.get(group) ?? []), one]);
  }
  return [...groups].flatMap(([group, all]): Finding[] => {
    const past = all.filter((one) => !cameFromCache(one));
    if (past.length === 0 || past.length * 2 >= all.length) return [];
    const [kind, host] = group.split(' ') as [string, string];
    const holding = past.some((one) => map.assets.find((asset) => asset.url === one.url)?.hold === 'holds');
    const slowest = Math.max(...past.map((one) => one.serverMs));
    return [
      {
        id: `past the edge ${group}`,
        line: holding ? 'server' : 'after the paint',
        sentence: `${count(all.length - past.length)} of ${count(all.length)} ${kind}s of ${host} came from a cache on the way, but not ${past
          .slice(0, 4)
          .map((one) => fileNameOf(one.url))
          .join(
            ', ',
          )}${past.length > 4 ? ' and others' : ''}: the server made ${past.length === 1 ? 'it' : 'them'} anew, in up to ${ms(slowest)}.`,
        urls: past.map((one) => one.url),
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
export function embeds({ map, work }: FindingInput): Finding[] {
  return map.assets
    .filter((asset) => asset.kind === 'embed')
    .map((asset): Finding => {
      const owner = ownerOf(asset.url);
      const brought = map.assets.filter((one) => ownerOf(one.url) === owner);
      const size = brought.reduce((sum, one) => sum + one.wireBytes, 0);
      const ranMs = ranFor(work, new Set(brought.map((one) => one.url)));
      return {
        id: `embed ${asset.url}`,
        line: asset.hold === 'after' ? 'after the paint' : 'bytes',
        sentence: `The embed from ${hostOf(asset.url)} brings ${brought.length} ${brought.length === 1 ? 'request' : 'requests'}, ${bytes(size)} and ${ms(ranMs)} on the page’s main thread, begun ${ms(asset.startMs)} after the navigation.`,
        urls: brought.map((one) => one.url),
        costMs: null,
      };
    });
}
