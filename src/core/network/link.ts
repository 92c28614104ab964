/** What a one-way link is like. Rates are kilobits a second, times milliseconds. */
export interface LinkSetting {
  kbps: number;
  /** From the last bit sent to its arrival at the other end. */
  oneWayMs: number;
  /** From a packet's last bit sent to its acknowledgement's arrival: the whole round trip. */
  roundTripMs: number;
}

/** Payload of a full packet, and what IP and TCP add to it (RFC 9293 without options). */
export const PACKET_BYTES = 1_460;
export const PACKET_OVERHEAD_BYTES = 40;
/** Initial congestion window: ten full packets (RFC 6928, section 2). */
export const INITIAL_WINDOW_BYTES = 10 * PACKET_BYTES;

/** One connection's share of a link. The link counts bytes; whose they are is the owner's business. */
export class Flow {
  /** What is queued, with the time from which it may leave. */
  readonly queue: { bytes: number; fromMs: number }[] = [];
  queuedBytes = 0;
  windowBytes = INITIAL_WINDOW_BYTES;
  readonly inFlight: { bytes: number; acknowledgedMs: number }[] = [];
  inFlightBytes = 0;
}

/** A packet that has left. */
export interface Departure {
  flow: Flow;
  bytes: number;
  /** When its last bit was sent. */
  leftMs: number;
  /** When it is all at the other end. */
  arrivesMs: number;
}

/**
 * One direction of a bottleneck shared by all connections, in virtual time: packets leave one after another at
 * the link's rate, the connections take turns, and each connection is held by its congestion window, which
 * doubles every round trip (slow start, RFC 5681, section 3.1; nothing is ever lost, so it never shrinks).
 *
 * It knows no clock: `send(now)` says what has left by `now`, at the times at which it did.
 */
export class Link {
  #setting: LinkSetting;
  #flows: Flow[] = [];
  #busyUntilMs = 0;
  /** Index of the flow whose turn is next. */
  #turn = 0;
  #sentBytes = 0;

  constructor(setting: LinkSetting) {
    this.#setting = setting;
  }

  /** All bytes that have left, overhead included. */
  get sentBytes(): number {
    return this.#sentBytes;
  }

  open(): Flow {
    const flow = new Flow();
    this.#flows.push(flow);
    return flow;
  }

  /** Forgets a flow and what it had queued. */
  close(flow: Flow): void {
    const index = this.#flows.indexOf(flow);
    if (index < 0) return;
    this.#flows.splice(index, 1);
    if (index < this.#turn) this.#turn--;
  }

  /** Queues bytes of a flow that may leave from a time on. */
  push(flow: Flow, bytes: number, fromMs: number): void {
    if (bytes <= 0) return;
    flow.queue.push({ bytes, fromMs });
    flow.queuedBytes += bytes;
  }

  /** When the next packet begins to leave; null when nothing is queued. */
  nextMs(): number | null {
    const next = this.#next();
    return next && next.startMs;
  }

  /** Sends the next packet if it has begun to leave by then. @returns null when none has */
  send(nowMs: number): Departure | null {
    const next = this.#next();
    if (!next || next.startMs > nowMs) return null;
    const { flow, startMs, index } = next;
    const bytes = this.#take(flow, startMs);
    const onWire = bytes + PACKET_OVERHEAD_BYTES;
    const leftMs = startMs + (onWire * 8) / this.#setting.kbps;
    this.#busyUntilMs = leftMs;
    this.#turn = index + 1;
    this.#sentBytes += onWire;
    flow.inFlight.push({ bytes, acknowledgedMs: leftMs + this.#setting.roundTripMs });
    flow.inFlightBytes += bytes;
    return { flow, bytes, leftMs, arrivesMs: leftMs + this.#setting.oneWayMs };
  }

  #next(): { flow: Flow; startMs: number; index: number } | null {
    let best: { flow: Flow; startMs: number; index: number } | null = null;
    const flows = this.#flows.length;
    for (let step = 0; step < flows; step++) {
      const index = (this.#turn + step) % flows;
      const flow = this.#flows[index]!;
      const head = flow.queue[0];
      if (!head) continue;
      const startMs = this.#mayLeave(flow, Math.max(this.#busyUntilMs, head.fromMs));
      if (!best || startMs < best.startMs) best = { flow, startMs, index };
    }
    return best;
  }

  /** From when on the window lets a packet out; acknowledgements that came by then have opened it. */
  #mayLeave(flow: Flow, fromMs: number): number {
    this.#acknowledge(flow, fromMs);
    const packet = Math.min(PACKET_BYTES, flow.queuedBytes);
    if (flow.inFlightBytes + packet <= flow.windowBytes) return fromMs;
    return flow.inFlight[0]!.acknowledgedMs;
  }

  #acknowledge(flow: Flow, byMs: number): void {
    while (flow.inFlight[0] && flow.inFlight[0].acknowledgedMs <= byMs) {
      const { bytes } = flow.inFlight.shift()!;
      flow.inFlightBytes -= bytes;
      flow.windowBytes += bytes;
    }
  }

  /** Takes a packet's worth of what may have left by then. */
  #take(flow: Flow, startMs: number): number {
    this.#acknowledge(flow, startMs);
    let taken = 0;
    while (taken < PACKET_BYTES) {
      const head = flow.queue[0];
      if (!head || head.fromMs > startMs) break;
      const part = Math.min(head.bytes, PACKET_BYTES - taken);
      taken += part;
      head.bytes -= part;
      if (head.bytes === 0) flow.queue.shift();
    }
    flow.queuedBytes -= taken;
    return taken;
  }
}
