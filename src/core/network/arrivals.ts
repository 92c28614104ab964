import { Link, type Flow } from './link.ts';
import { nextToSend, type SendPriority } from './send-order.ts';

/** A response that has to come down the line. */
export interface LineResponse {
  /** What comes on one connection is put in order by priority; connections take turns. */
  connection: string;
  /** From when on its server has it to send, ms. */
  readyMs: number;
  bytes: number;
  priority: SendPriority;
}

/** The line that all responses come down. */
export interface LineRate {
  downKbps: number;
  roundTripMs: number;
}

/**
 * What has been given to the line can no longer be overtaken: the bottleneck's own buffer, and what TLS and HTTP/2
 * hold before it. Found by replaying: small urgent answers came 110 to 140 ms late behind a picture at 1.4 Mbps.
 */
const UNDER_WAY_BYTES = 18_000;
const PIECE_BYTES = 4_096;

interface Connection {
  flow: Flow;
  /** Given to the line and not yet gone, in order: the last bytes of a response tell when it has arrived. */
  pieces: { response: number; bytes: number }[];
  lastId: number;
}

/**
 * When each response has arrived whole if all of them share one line, ms: the replay's bottleneck and its order
 * of sending (`Link`, `nextToSend`), without the clock.
 */
export function arrivalsOf(responses: readonly LineResponse[], rate: LineRate): number[] {
  return new Line(responses, rate).run();
}

class Line {
  #responses: readonly LineResponse[];
  #link: Link;
  #connections = new Map<string, Connection>();
  #toGive: number[];
  #toArrive: number[];
  #arrived: number[];
  /** Responses by the moment they are ready, those still to come last. */
  #coming: number[];
  #ready = new Map<Connection, Set<number>>();

  constructor(responses: readonly LineResponse[], { downKbps, roundTripMs }: LineRate) {
    this.#responses = responses;
    this.#link = new Link({ kbps: downKbps, oneWayMs: roundTripMs / 2, roundTripMs });
    this.#toGive = responses.map((one) => one.bytes);
    this.#toArrive = responses.map((one) => one.bytes);
    this.#arrived = responses.map((one) => one.readyMs + roundTripMs / 2);
    this.#coming = responses
      .map((_one, index) => index)
      .filter((index) => responses[index]!.bytes > 0)
      .sort((a, b) => responses[b]!.readyMs - responses[a]!.readyMs || b - a);
  }

  run(): number[] {
    for (;;) {
      const nextLeaves = this.#link.nextMs();
      const nextComes = this.#coming.length ? this.#responses[this.#coming.at(-1)!]!.readyMs : null;
      if (nextComes !== null && (nextLeaves === null || nextComes <= nextLeaves)) this.#come(nextComes);
      else if (nextLeaves !== null) this.#leave(nextLeaves);
      else return this.#arrived;
    }
  }

  #come(atMs: number): void {
    const index = this.#coming.pop()!;
    const connection = this.#connectionOf(this.#responses[index]!.connection);
    this.#ready.get(connection)!.add(index);
    this.#give(connection, atMs);
  }

  #leave(atMs: number): void {
    const { flow, bytes, leftMs, arrivesMs } = this.#link.send(atMs)!;
    const connection = [...this.#connections.values()].find((one) => one.flow === flow)!;
    for (let left = bytes; left > 0;) {
      const piece = connection.pieces[0]!;
      const part = Math.min(left, piece.bytes);
      left -= part;
      piece.bytes -= part;
      if (piece.bytes === 0) connection.pieces.shift();
      this.#toArrive[piece.response]! -= part;
      if (this.#toArrive[piece.response] === 0) this.#arrived[piece.response] = arrivesMs;
    }
    this.#give(connection, leftMs);
  }

  /** Fills what is under way on a connection, the most urgent first. */
  #give(connection: Connection, atMs: number): void {
    const ready = this.#ready.get(connection)!;
    while (connection.flow.queuedBytes < UNDER_WAY_BYTES) {
      const sendable = [...ready].map((id) => ({ id, priority: this.#responses[id]!.priority }));
      const next = nextToSend(sendable, connection.lastId);
      if (!next) return;
      const bytes = Math.min(PIECE_BYTES, this.#toGive[next.id]!);
      this.#toGive[next.id]! -= bytes;
      if (this.#toGive[next.id] === 0) ready.delete(next.id);
      connection.lastId = next.id;
      connection.pieces.push({ response: next.id, bytes });
      this.#link.push(connection.flow, bytes, atMs);
    }
  }

  #connectionOf(name: string): Connection {
    let connection = this.#connections.get(name);
    if (!connection) {
      connection = { flow: this.#link.open(), pieces: [], lastId: -1 };
      this.#connections.set(name, connection);
      this.#ready.set(connection, new Set());
    }
    return connection;
  }
}
