import type { BillCode, BillSegment } from '../path/bill.ts';
import { fileNameOf, hostOf } from '../path/names.ts';
import { blockWords } from './edges.ts';

/** What a line of the bill is told by. */
export type LineFacts = Pick<BillSegment, 'code' | 'url' | 'blocks' | 'foundBy'>;

/** How a line of the bill is called, and why its time passed, as a sentence. */
export interface LineWords {
  label: string;
  why: string;
}

const ARRIVING = 'Nothing can be asked for before its first bytes.';
const ON_THREAD = 'on the main thread before it could go on.';

/** A line of the bill with its words. */
export type BillEntry = BillSegment & LineWords;

/** @param name of the asset, as it is called */
type Words = LineWords | ((name: string, facts: LineFacts) => LineWords);

const WORDS: Record<BillCode, Words> = {
  'setting-out': { label: 'starting the navigation', why: 'The browser setting out.' },
  'setting-out-anew': { label: 'starting again', why: 'After the redirect.' },
  redirect: (_name, { url }) => ({
    label: `redirect from ${url}`,
    why: 'The address asked for is not the page’s own.',
  }),
  connecting: (_name, { url }) => ({
    label: `connecting to ${hostOf(url!)}`,
    why: 'A new connection: a round trip for TCP, one for TLS.',
  }),
  'page-connecting': (_name, { url }) => ({
    label: `connecting to ${hostOf(url!)}`,
    why: 'A round trip for TCP, one for TLS.',
  }),
  'page-answering': {
    label: 'the server answering',
    why: 'The page itself: the server’s own time and one round trip.',
  },
  'page-arriving': { label: 'the HTML arriving', why: ARRIVING },
  'taking-over': {
    label: 'taking the page over',
    why: 'The HTML was there; the browser was handing it to the page’s own process.',
  },
  answering: (name) => ({
    label: `the server and the way for ${name}`,
    why: 'Its own time, a round trip, and what stood in the line before it.',
  }),
  arriving: (name, { blocks }) => ({
    label: `receiving ${name}`,
    why: `${name} was arriving: ${blocks ? blockWords(blocks) : 'needed by what waited'}.`,
  }),
  'held-back': (name) => ({ label: `${name} waiting to be sent`, why: 'The browser held it back.' }),
  queued: (name) => ({
    label: `${name} waiting in the browser’s queue`,
    why: 'Known to the browser, not yet sent.',
  }),
  'not-discovered': (name, { foundBy }) => ({
    label: `${name} not yet discovered`,
    why: `Nobody could ask for it before ${fileNameOf(foundBy!)} had got to it.`,
  }),
  'script-ran': (name, { blocks }) => ({
    label: `running ${name}`,
    why: `${name} ran on the main thread${blocks ? `: ${blockWords(blocks)}` : ''}.`,
  }),
  'sheet-read': (name, { blocks }) => ({
    label: `reading ${name}`,
    why: `${name} was read on the main thread${blocks ? `: ${blockWords(blocks)}` : ''}.`,
  }),
  'script-ran-between': (name) => ({ label: `running ${name}`, why: `${name} ran ${ON_THREAD}` }),
  'sheet-read-between': (name) => ({ label: `reading ${name}`, why: `${name} was read ${ON_THREAD}` }),
  'last-frame': { label: 'painting', why: 'Ready, and waiting for the screen’s next frame.' },
  frame: { label: 'waiting for a frame', why: 'Style and layout are done once a frame of the screen.' },
  unexplained: {
    label: 'unexplained',
    why: 'Neither the network nor the main thread shows what this time went to.',
  },
  running: { label: 'running inline scripts', why: 'Scripts in the page itself.' },
  parse: { label: 'parsing the HTML', why: 'The parser at work.' },
  style: { label: 'style and layout', why: 'Reading stylesheets, matching, laying out.' },
  paint: { label: 'painting', why: 'Drawing the first picture.' },
  draw: {
    label: 'decoding and drawing',
    why: 'Pictures decoded and pixels drawn, outside the main thread.',
  },
  work: { label: 'other main-thread work', why: 'The browser’s own work on the main thread.' },
};

/** The words of a line of the bill. */
export function billWords(facts: LineFacts): LineWords {
  const words = WORDS[facts.code];
  return typeof words === 'function' ? words(facts.url ? fileNameOf(facts.url) : '', facts) : words;
}
