import type { Conditions } from '../measure/conditions.ts';
import { INITIAL_WINDOW_BYTES, PACKET_BYTES, PACKET_OVERHEAD_BYTES } from '../network/link.ts';
import type { OwnTime } from './main-thread.ts';
import { bytes, ms } from './words.ts';

/** One line of the floor. */
export interface FloorLine {
  label: string;
  why: string;
  ms: number;
}

export interface Floor {
  atMs: number;
  /** They sum to the floor. */
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
  /** Of the HTML, compressed as served: down to the last element above the fold where that is known. */
  htmlBytes: number;
  /** Compressed fold CSS; null where none was made. */
  foldBytes: number | null;
  /** The browser's own time before parsing (it goes on while bytes arrive) and from layout to the screen. */
  ownTime: OwnTime;
  /** Parsing these bytes, ms: it goes on while they arrive as well. */
  parseMs: number;
  /** Main-thread work that any first paint of this page needs beyond parsing: style, layout, paint, ms. */
  workMs: number;
  /** The earliest first paint ever measured under these conditions; null for none. */
  earliestMs: number | null;
}

/** The earliest first paint this page can have under the conditions, itemised. */
export function floorOf(input: FloorInput): Floor {
  const { conditions } = input;
  const trips = input.secure ? 2 : 1;
  const needed = input.htmlBytes + (input.foldBytes ?? 0);
  const bytesMs = transferMs(needed, conditions);
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
      ms: Math.max(0, input.ownTime.beginMs + input.parseMs - bytesMs),
    },
    {
      label: 'style, layout and paint',
      why: 'As measured, without scripts; of reading and matching stylesheets what fold CSS needs.',
      ms: input.workMs,
    },
    {
      label: 'onto the screen',
      why: 'From layout to the frame that is shown, as measured.',
      ms: input.ownTime.toScreenMs,
    },
  );
  const computed = lines.reduce((sum, line) => sum + line.ms, 0);
  if (input.earliestMs !== null && input.earliestMs < computed) {
    lines.push({
      label: 'measured earlier than that',
      why: `The lines come to ${ms(computed)}; a variant was measured that painted before.`,
      ms: input.earliestMs - computed,
    });
    return { atMs: input.earliestMs, lines, measured: true };
  }
  return { atMs: computed, lines, measured: false };
}

/** The floor as several runs show it: the median of theirs, so that a run gone wrong does not move it. */
export function floorAmong(ofRuns: readonly Floor[]): Floor | null {
  return [...ofRuns].sort((a, b) => a.atMs - b.atMs)[Math.floor((ofRuns.length - 1) / 2)] ?? null;
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
