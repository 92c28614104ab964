import { Duplex } from 'node:stream';
import type { Socket } from 'node:net';
import { Link, type Flow } from '../../core/network/link.ts';

/** What the shaper makes of the loopback: one bottleneck for all connections. */
export interface NetworkSetting {
  roundTripMs: number;
  downKbps: number;
  upKbps: number;
}

/** Events this near are carried out now: timers come late, so being a little early evens them out. */
const NEAR_MS = 0.4;
/** How far a writer that never paused may be behind the real clock and still count as having been ready. */
const LAG_MS = 25;
const READY_AGAIN_MS = 4;
/** The least that a connection may have queued before its writer has to wait. */
const LEAST_BUFFER_BYTES = 8_000;
/** Bytes of an idle client that wait here before its socket is paused. */
const UPLINK_BUFFER_BYTES = 64_000;

interface Direction {
  link: Link;
  flows: Map<Flow, Lane>;
  /** What has left and is on its way, in the order of arrival. */
  underWay: { lane: Lane; data: Buffer; arrivesMs: number }[];
}

/** One connection in one direction: whose bytes the link counts, and where they go. */
interface Lane {
  flow: Flow;
  chunks: Buffer[];
  deliver(data: Buffer): void;
  /** Told when bytes have left. @param leftMs in virtual time */
  left(leftMs: number): void;
  /** Told when everything has arrived after the sender ended. */
  ended: (() => void) | null;
  outstanding: number;
}

/**
 * The bottleneck: every connection's bytes, both ways, go through one virtual link for each direction. It runs
 * on timers; what they are late by is made up for in virtual time, and recorded.
 */
export class Shaper {
  #setting: NetworkSetting;
  #down: Direction;
  #up: Direction;
  #timer: NodeJS.Timeout | null = null;
  #wakeMs = Infinity;
  #immediate = false;
  #late: number[] = [];
  #bufferBytes: number;
  #sentBytes = 0;

  /** @param offsetMs what the loopback and the timers add to a round trip by themselves: taken off it */
  constructor(setting: NetworkSetting, offsetMs = 0) {
    this.#setting = setting;
    const roundTripMs = Math.max(0, setting.roundTripMs - offsetMs);
    const direction = (kbps: number): Direction => ({
      link: new Link({ kbps, oneWayMs: roundTripMs / 2, roundTripMs }),
      flows: new Map(),
      underWay: [],
    });
    this.#down = direction(setting.downKbps);
    this.#up = direction(setting.upKbps);
    // Small, so that responses queue where they can be ordered, and never less than the timers' grain needs.
    this.#bufferBytes = Math.max(LEAST_BUFFER_BYTES, (setting.downKbps / 8) * 4);
  }

  /** Lateness of the timers since the last call, ms, each. */
  takeLateness(): number[] {
    return this.#late.splice(0);
  }

  /** Bytes let through to clients since the last call. */
  takeSentBytes(): number {
    const bytes = this.#sentBytes;
    this.#sentBytes = 0;
    return bytes;
  }

  /** Puts a client's socket behind the bottleneck. @returns the server's end of the connection */
  connect(socket: Socket): Duplex {
    socket.setNoDelay(true);
    // The handshake costs a round trip before a client's first byte can leave (RFC 9293, section 3.5).
    const openMs = performance.now() + this.#setting.roundTripMs;
    let waiting: ((error?: Error | null) => void) | null = null;
    let releasedMs: number | null = null;
    let releasedAt = 0;

    const server = new Duplex({
      allowHalfOpen: true,
      highWaterMark: LEAST_BUFFER_BYTES,
      read: () => undefined,
      write: (chunk: Buffer, _encoding, done) => {
        const now = performance.now();
        // A writer that was ready all along sends in virtual time; one that paused sends now.
        const ready = releasedMs !== null && now - releasedAt < READY_AGAIN_MS;
        const fromMs = ready ? Math.max(releasedMs!, now - LAG_MS) : now;
        this.#push(this.#down, down, chunk, fromMs);
        if (down.flow.queuedBytes < this.#bufferBytes) done();
        else waiting = done;
      },
      final: (done) => {
        whenAllArrived(down, () => {
          socket.end();
          done();
        });
      },
      destroy: (error, done) => {
        this.#drop(this.#down, down);
        this.#drop(this.#up, up);
        socket.destroy();
        done(error);
      },
    });
    const down = this.#lane(this.#down, (data) => {
      if (!socket.destroyed) socket.write(data);
    });
    down.left = (leftMs) => {
      if (!waiting || down.flow.queuedBytes >= this.#bufferBytes) return;
      const done = waiting;
      waiting = null;
      releasedMs = leftMs;
      releasedAt = performance.now();
      done();
    };
    const up = this.#lane(this.#up, (data) => {
      if (!server.destroyed) server.push(data);
    });
    up.left = () => {
      if (up.flow.queuedBytes < UPLINK_BUFFER_BYTES && socket.isPaused()) socket.resume();
    };
    socket.on('data', (data: Buffer) => {
      this.#push(this.#up, up, data, Math.max(performance.now(), openMs));
      if (up.flow.queuedBytes >= UPLINK_BUFFER_BYTES) socket.pause();
    });
    socket.on('end', () => whenAllArrived(up, () => !server.destroyed && server.push(null)));
    socket.on('error', () => server.destroy());
    socket.on('close', () => server.destroy());
    return server;
  }

  #lane(direction: Direction, deliver: (data: Buffer) => void): Lane {
    const lane: Lane = {
      flow: direction.link.open(),
      chunks: [],
      deliver,
      left: () => undefined,
      ended: null,
      outstanding: 0,
    };
    direction.flows.set(lane.flow, lane);
    return lane;
  }

  #drop(direction: Direction, lane: Lane): void {
    direction.link.close(lane.flow);
    direction.flows.delete(lane.flow);
  }

  #push(direction: Direction, lane: Lane, data: Buffer, fromMs: number): void {
    lane.chunks.push(data);
    lane.outstanding += data.length;
    direction.link.push(lane.flow, data.length, fromMs);
    if (fromMs <= performance.now()) this.#soon();
    else this.#wakeAt(fromMs);
  }

  /** Works off what is due as soon as the present call is done. */
  #soon(): void {
    if (this.#immediate) return;
    this.#immediate = true;
    setImmediate(() => {
      this.#immediate = false;
      this.#work();
    });
  }

  #wakeAt(atMs: number): void {
    if (atMs >= this.#wakeMs) return;
    if (this.#timer) clearTimeout(this.#timer);
    this.#wakeMs = atMs;
    this.#timer = setTimeout(
      () => {
        this.#timer = null;
        this.#late.push(Math.max(0, performance.now() - this.#wakeMs));
        this.#wakeMs = Infinity;
        this.#work();
      },
      Math.max(0, Math.floor(atMs - performance.now())),
    );
  }

  #work(): void {
    const now = performance.now() + NEAR_MS;
    for (const direction of [this.#down, this.#up]) {
      for (let next = direction.link.send(now); next; next = direction.link.send(now)) {
        const lane = direction.flows.get(next.flow)!;
        if (direction === this.#down) this.#sentBytes += next.bytes;
        direction.underWay.push({ lane, data: takeBytes(lane, next.bytes), arrivesMs: next.arrivesMs });
        lane.left(next.leftMs);
      }
    }
    for (const direction of [this.#down, this.#up]) {
      let arrived = 0;
      while (arrived < direction.underWay.length && direction.underWay[arrived]!.arrivesMs <= now) arrived++;
      // What arrives together is handed over together: a call for each packet would cost more than the packet.
      const together = new Map<Lane, Buffer[]>();
      for (const { lane, data } of direction.underWay.splice(0, arrived)) {
        const parts = together.get(lane);
        if (parts) parts.push(data);
        else together.set(lane, [data]);
      }
      for (const [lane, parts] of together) {
        const data = parts.length === 1 ? parts[0]! : Buffer.concat(parts);
        lane.outstanding -= data.length;
        lane.deliver(data);
        if (lane.outstanding === 0 && lane.ended) lane.ended();
      }
    }
    let wake = Infinity;
    for (const direction of [this.#down, this.#up]) {
      wake = Math.min(
        wake,
        direction.link.nextMs() ?? Infinity,
        direction.underWay[0]?.arrivesMs ?? Infinity,
      );
    }
    if (wake !== Infinity) this.#wakeAt(wake);
  }
}

/** Calls back once nothing is queued or under way any more. */
function whenAllArrived(lane: Lane, done: () => void): void {
  if (lane.outstanding === 0) done();
  else lane.ended = done;
}

function takeBytes(lane: Lane, bytes: number): Buffer {
  const parts: Buffer[] = [];
  let wanted = bytes;
  while (wanted > 0) {
    const head = lane.chunks[0]!;
    if (head.length <= wanted) {
      parts.push(head);
      lane.chunks.shift();
      wanted -= head.length;
    } else {
      parts.push(head.subarray(0, wanted));
      lane.chunks[0] = head.subarray(wanted);
      wanted = 0;
    }
  }
  return parts.length === 1 ? parts[0]! : Buffer.concat(parts);
}
