import type { FindingFacts, PictureCode } from '../path/findings/finding.ts';
import { fileNameOf, hostOf } from '../path/names.ts';
import { bytes, capital, count, ms, paintName } from '../path/words.ts';
import { inVainWords } from './hints.ts';
import { fewOf } from '../path/ties/ties.ts';

type FactsOf<C extends FindingFacts['code']> = Extract<FindingFacts, { code: C }>;

/** As many names as are told before "and others". */
const MOST_NAMES = 4;

const PICTURES: Record<PictureCode, (names: string, paint: string) => string> = {
  'no room kept': (names) =>
    `Pictures without width and height, so that what stands below them shifts: ${names}.`,
  'fold picture held back': (names) =>
    `Pictures above the fold are loaded lazily, so later than they could be: ${names}.`,
  'low picture early': (names, paint) => `Pictures below the fold take the line before ${paint}: ${names}.`,
  'more pixels than shown': (names) =>
    `Pictures have more than twice the pixels that these conditions can show: ${names}. A size for the viewport would do.`,
  'older format': (names) =>
    `Large pictures in an older format, which a modern one would show in fewer bytes: ${names}.`,
};

const pictures = ({ code, urls, paint }: FactsOf<PictureCode>) =>
  PICTURES[code](some(urls), paintName(paint));

const WORDS: { [C in FindingFacts['code']]: (facts: FactsOf<C>) => string } = {
  chain({ urls, lateMs, firstWas, last }) {
    const first = { run: 'ran', read: 'was read', there: 'had come' }[firstWas];
    const what =
      last === 'font'
        ? 'A preload for the font lets it start with the stylesheet.'
        : last === 'stylesheet'
          ? 'Linked in the HTML they would load side by side.'
          : 'What is asked for late could be asked for by the HTML.';
    return `${urls.map(fileNameOf).join(', then ')}: each could be asked for only when the one before was there; the last came ${ms(lateMs)} after the first ${first}. ${what}`;
  },
  'hint in vain': (facts) => `${capital(inVainWords(facts))}. Treat takes it out.`,
  host({ host, atMs, tookMs, trips, holding, paint }) {
    const what = holding.length
      ? `${paintName(paint)} waits for ${holding.map(fileNameOf).join(', ')} from there.`
      : `nothing that ${paintName(paint)} waits for comes from there.`;
    return `${host} is connected to ${ms(atMs)} after the navigation began, for ${ms(tookMs)} (${trips} round ${trips === 1 ? 'trip' : 'trips'}); ${what}`;
  },
  party({ owner, requests, bytes: size, ranMs, holding, early, paint }) {
    const does = holding.length
      ? `${paintName(paint)} waits for ${holding.map(fileNameOf).join(', ')}`
      : early
        ? `${early < requests ? `${early} of them` : 'asked for'} before ${paintName(paint)}, not required for it`
        : `all after ${paintName(paint)}`;
    return `${owner}: ${requests} ${requests === 1 ? 'request' : 'requests'}, ${bytes(size)}, ${ms(ranMs)} on the main thread; ${does}.`;
  },
  'plain on the wire': ({ urls, bytes: size }) =>
    `${urls.length} text ${urls.length === 1 ? 'file comes' : 'files come'} uncompressed, ${bytes(size)}: ${some(urls)}.`,
  'kept too short'({ files, bytes: size }) {
    const one = files === 1;
    return `${files} ${one ? 'file' : 'files'} (${bytes(size)}) ${one ? 'is' : 'are'} kept for less than a week or not at all: return visits pay for ${one ? 'it' : 'them'} again.`;
  },
  server: (facts) => `The server itself took ${ms(facts.serverMs)} for the page; ${itemised(facts)}.`,
  scattered: ({ kind, most, place, url, host }) =>
    `${count(most)} ${kind}s come from ${place}, only ${fileNameOf(url)} from ${host}: served from the same place it would need no extra connection.`,
  'past the edge': ({ kind, host, all, past, slowestMs }) =>
    `${count(all - past.length)} of ${count(all)} ${kind}s of ${host} came from a cache on the way, but not ${some(past)}: the server made ${past.length === 1 ? 'it' : 'them'} again, in up to ${ms(slowestMs)}.`,
  embed: ({ url, requests, bytes: size, ranMs, startMs }) =>
    `The embed from ${hostOf(url)} brings ${requests} ${requests === 1 ? 'request' : 'requests'}, ${bytes(size)} and ${ms(ranMs)} on the page’s main thread, begun ${ms(startMs)} after the navigation.`,
  'idle sheet': ({ url, kept, rules, needs }) =>
    `${count(kept)} of ${count(rules)} rules of ${fileNameOf(url)} apply above the fold${
      needs.length ? `, for ${fewOf(needs)}` : ''
    }: the fold CSS holds them, the rest can come late.`,
  'hardly run'({ url, bytes: size, byPaintBytes, byLoadBytes }) {
    const percent = (used: number) => `${Math.round((used / size) * 100)} %`;
    const ran = byPaintBytes ?? byLoadBytes;
    const until = byPaintBytes === null ? 'load' : `first paint, ${percent(byLoadBytes)} before load`;
    return `${percent(ran)} of ${fileNameOf(url)} (${bytes(ran)} of ${bytes(size)}) ran before ${until}.`;
  },
  'idle fonts': ({ urls, bytes: size, paint }) =>
    `${urls.map(fileNameOf).join(', ')} (${bytes(size)}) ${urls.length === 1 ? 'paints' : 'paint'} ${paint === 'nothing' ? 'nothing at all' : 'nothing above the fold'}.`,
  'loaded twice': ({ urls }) =>
    `The same script is loaded ${urls.length} times: ${urls.map(fileNameOf).join(', ')}.`,
  versions: ({ library, all }) =>
    `${library} is loaded in ${all.length} versions: ${all.map((one) => `${one.version} (${fileNameOf(one.url)})`).join(', ')}.`,
  'no room kept': pictures,
  'fold picture held back': pictures,
  'low picture early': pictures,
  'more pixels than shown': pictures,
  'older format': pictures,
  repeated: ({ url, times, declarations }) =>
    `${count(times)} rules of ${fileNameOf(url)} say the same in full: ${declarations.slice(0, 60)}${declarations.length > 60 ? '…' : ''}.`,
  click: ({ atMs, waitsMs, script }) =>
    `The page is on screen, but a click at ${ms(atMs)} is answered ${ms(waitsMs)} later: ${
      script ? `${fileNameOf(script)} keeps` : 'the browser’s own work keeps'
    } the main thread until then.`,
  background: ({ url, bytes: size, element }) =>
    `${fileNameOf(url)} (${bytes(size)}) stands behind ${element} above the fold. The browser learns of a background only from the stylesheet; a preload lets it start with the page.`,
  animation: ({ element, name, properties }) =>
    `${element} above the fold is animated without end (${name}: ${properties.join(', ')}), which takes style, layout or paint for every frame. Moved by transform or opacity it would take none.`,
  'staff unknown': () =>
    'This capture was made with a sign-in or steps of yours. Measure the page once as any visitor: what is only seen signed in is told apart then.',
  staff: ({ urls, bytes: size }) =>
    `${urls.length} ${urls.length === 1 ? 'asset is' : 'assets are'} seen only with your sign-in (${bytes(size)}), so visitors never wait for ${urls.length === 1 ? 'it' : 'them'}: ${some(urls)}.`,
};

/** A finding as a sentence about its page. */
export function findingWords(facts: FindingFacts): string {
  return (WORDS[facts.code] as (facts: FindingFacts) => string)(facts);
}

/** The first few names: "a.js, b.js, c.js, d.js and others". */
function some(urls: readonly string[]): string {
  return (
    urls.slice(0, MOST_NAMES).map(fileNameOf).join(', ') + (urls.length > MOST_NAMES ? ' and others' : '')
  );
}

/** What a server says of its time, and how much of it that leaves open. */
function itemised({ said, serverMs }: FactsOf<'server'>): string {
  if (said.length === 0) return 'it says nothing of it (no Server-Timing header)';
  const parts = said.map(({ name, description, durationMs }) =>
    [description || name, durationMs === null ? '' : ms(durationMs)].join(' ').trim(),
  );
  const told = said.reduce((sum, one) => sum + (one.durationMs ?? 0), 0);
  // Parts may lie within each other: then they come to more than all of it.
  const open = told > 0 && serverMs - told >= 1 ? `, which leaves ${ms(serverMs - told)} open` : '';
  return `it says of it: ${parts.join(', ')}${open}`;
}
