import type { Conditions } from '../measure/conditions.ts';
import { INITIAL_WINDOW_BYTES, PACKET_BYTES, PACKET_OVERHEAD_BYTES } from '../network/link.ts';
import type { OwnTime } from './main-thread.ts';
import { bytes } from './words.ts';

/** One line of the floor. */
export interface FloorLine {
  label: string;
  why: string;
  ms: number;
}

export interface Floor {
  atMs: number;
  lines: FloorLine[];
  /** True when something measured was earlier than the computation: then that is the floor. */
  measured: boolean;
}

export interface FloorInput {
  conditions: Conditions;
  secure: boolean;
  /** Redirects cannot be left out by treating the page, ms. */
  redirectMs: number;
  serverMs: number;
  /** The HTML as served, compressed where it is. */
  htmlBytes: number;
  /** The share of it down to the last element above the fold, 0 to 1; 1 where that is not known. */
  foldShare: number;
  /** Compressed fold CSS; null where none was made. */
  foldBytes: number | null;
  /** The browser's own time before parsing (it goes on while bytes arrive) and from layout to the screen. */
  ownTime: OwnTime;
  /** Parsing the whole HTML, ms: it goes on while bytes arrive as well. */
  parseMs: number;
  /** Style and layout of the whole page with the sheets that any first paint needs, ms. */
  layoutMs: number;
  paintMs: number;
  /** The earliest first paint ever measured under these conditions; null for none. */
  earliestMs: number | null;
}

/** The earliest first paint this page can have under the conditions, itemised. */
export function floorOf(input: FloorInput): Floor {
  const { conditions } = input;
  const trips = input.secure ? 2 : 1;
  const all = input.htmlBytes + (input.foldBytes ?? 0);
  const needed = input.htmlBytes * input.foldShare + (input.foldBytes ?? 0);
  const bytesMs = transferMs(needed, conditions);
  // What is there when the browser begins is parsed and laid out at once, whether the fold needs it or not.
  const beginsMs = Math.max(bytesMs, input.ownTime.beginMs);
  const there = all > 0 ? Math.min(1, Math.max(needed, arrivedBy(beginsMs, conditions)) / all) : 1;
  const lines: FloorLine[] = [];
  if (input.redirectMs > 0)
    lines.push({ label: 'redirects', why: 'The page cannot shorten them.', ms: input.redirectMs });
  lines.push(
    {
      label: 'connecting',
      why: trips === 2 ? 'A round trip for TCP, one for TLS.' : 'A round trip for TCP.',
      ms: trips * conditions.roundTripMs,
    },
    {
      label: 'the server answering',
      why: 'Its own time and one round trip.',
      ms: input.serverMs + conditions.roundTripMs,
    },
    {
      label: 'the bytes that any paint needs',
      why:
        input.foldBytes === null
          ? `The HTML, ${bytes(input.htmlBytes)}; no fold CSS was made yet.`
          : `The HTML down to the last element above the fold with its fold CSS, ${bytes(needed)}.`,
      ms: bytesMs,
    },
    {
      label: 'taking the page over and parsing it',
      why: 'As measured, as far as it is not done while the bytes arrive.',
      ms: Math.max(0, input.ownTime.beginMs + input.parseMs * there - bytesMs),
    },
    {
      label: 'style, layout and paint',
      why: 'As measured, without scripts: of what is there by then, with the stylesheets that the fold needs.',
      ms: input.layoutMs * there + input.paintMs,
    },
    {
      label: 'onto the screen',
      why: 'From layout to the frame that is shown, as measured.',
      ms: input.ownTime.toScreenMs,
    },
  );
  const computed = lines.reduce((sum, line) => sum + line.ms, 0);
  if (input.earliestMs !== null && input.earliestMs < computed)
    return { atMs: input.earliestMs, lines, measured: true };
  return { atMs: computed, lines, measured: false };
}

/** How long bytes take on a new connection: the line's rate, and a round trip for each window they overflow. */
export function transferMs(size: number, conditions: Pick<Conditions, 'downKbps' | 'roundTripMs'>): number {
  const onWire = size * (1 + PACKET_OVERHEAD_BYTES / PACKET_BYTES);
  const line = (onWire * 8) / conditions.downKbps;
  let window = INITIAL_WINDOW_BYTES;
  let sent = window;
  let waits = 0;
  while (sent < size) {
    const windowMs = (window * 8) / conditions.downKbps;
    waits += Math.max(0, conditions.roundTripMs - windowMs);
    window *= 2;
    sent += window;
  }
  return line + waits;
}

/** How many bytes have come on a new connection after a time: `transferMs` the other way round. */
export function arrivedBy(ms: number, conditions: Pick<Conditions, 'downKbps' | 'roundTripMs'>): number {
  const { downKbps, roundTripMs } = conditions;
  const bytesPerMs = downKbps / 8 / (1 + PACKET_OVERHEAD_BYTES / PACKET_BYTES);
  let window = INITIAL_WINDOW_BYTES;
  let arrived = 0;
  let atMs = 0;
  for (;;) {
    const endMs = atMs + window / bytesPerMs;
    if (ms <= endMs) return arrived + (ms - atMs) * bytesPerMs;
    arrived += window;
    atMs = endMs + Math.max(0, roundTripMs - (window * 8) / downKbps);
    if (ms <= atMs) return arrived;
    window *= 2;
  }
}
