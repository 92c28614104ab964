import { Link, type Flow } from './link.ts';
import { nextToSend, PIECE_BYTES, type Sendable, type SendPriority } from './send-order.ts';

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

interface Connection {
  flow: Flow;
  /** Given to the line and not yet gone, in order: the last bytes of a response tell when it has arrived. */
  pieces: { response: number; bytes: number }[];
  ready: Set<Sendable>;
  lastId: number;
}

/**
 * When each response has arrived whole if all of them share one line, ms: the replay's bottleneck and its order
 * of sending (`Link`, `nextToSend`), without the clock.
 *
 * @param wanted whose arrival is asked for: of others it may be missing, as `Infinity`
 */
export function arrivalsOf(
  responses: readonly LineResponse[],
  rate: LineRate,
  wanted: (index: number) => boolean = () => true,
): number[] {
  return new Line(responses, rate, wanted).run();
}

class Line {
  #responses: readonly LineResponse[];
  #link: Link;
  #connections = new Map<string, Connection>();
  #ofFlow = new Map<Flow, Connection>();
  #wanted: Set<number>;
  #toGive: number[];
  #toArrive: number[];
  #arrived: number[];
  /** Responses by the moment they are ready, those still to come last. */
  #coming: number[];

  constructor(
    responses: readonly LineResponse[],
    { downKbps, roundTripMs }: LineRate,
    wanted: (index: number) => boolean,
  ) {
    this.#responses = responses;
    this.#link = new Link({ kbps: downKbps, oneWayMs: roundTripMs / 2, roundTripMs });
    this.#toGive = responses.map((one) => one.bytes);
    this.#toArrive = responses.map((one) => one.bytes);
    this.#arrived = responses.map((one) => (one.bytes > 0 ? Infinity : one.readyMs + roundTripMs / 2));
    this.#coming = responses
      .map((_one, index) => index)
      .filter((index) => responses[index]!.bytes > 0)
      .sort((a, b) => responses[b]!.readyMs - responses[a]!.readyMs || b - a);
    this.#wanted = new Set(this.#coming.filter(wanted));
  }

  run(): number[] {
    while (this.#wanted.size > 0) {
      const nextLeaves = this.#link.nextMs();
      const nextComes = this.#coming.length ? this.#responses[this.#coming.at(-1)!]!.readyMs : null;
      if (nextComes !== null && (nextLeaves === null || nextComes <= nextLeaves)) this.#come(nextComes);
      else this.#leave(nextLeaves!);
    }
    return this.#arrived;
  }

  #come(atMs: number): void {
    const index = this.#coming.pop()!;
    const { connection: name, priority } = this.#responses[index]!;
    const connection = this.#connectionOf(name);
    connection.ready.add({ id: index, priority });
    this.#give(connection, atMs);
  }

  #leave(atMs: number): void {
    const { flow, bytes, leftMs, arrivesMs } = this.#link.send(atMs)!;
    const connection = this.#ofFlow.get(flow)!;
    for (let left = bytes; left > 0;) {
      const piece = connection.pieces[0]!;
      const part = Math.min(left, piece.bytes);
      left -= part;
      piece.bytes -= part;
      if (piece.bytes === 0) connection.pieces.shift();
      this.#toArrive[piece.response]! -= part;
      if (this.#toArrive[piece.response] === 0) {
        this.#arrived[piece.response] = arrivesMs;
        this.#wanted.delete(piece.response);
      }
    }
    this.#give(connection, leftMs);
  }

  /** Fills what is under way on a connection, the most urgent first. */
  #give(connection: Connection, atMs: number): void {
    while (connection.flow.queuedBytes < UNDER_WAY_BYTES) {
      const next = nextToSend(connection.ready, connection.lastId);
      if (!next) return;
      const bytes = Math.min(PIECE_BYTES, this.#toGive[next.id]!);
      this.#toGive[next.id]! -= bytes;
      if (this.#toGive[next.id] === 0) connection.ready.delete(next);
      connection.lastId = next.id;
      connection.pieces.push({ response: next.id, bytes });
      this.#link.push(connection.flow, bytes, atMs);
    }
  }

  #connectionOf(name: string): Connection {
    let connection = this.#connections.get(name);
    if (!connection) {
      connection = { flow: this.#link.open(), pieces: [], ready: new Set(), lastId: -1 };
      this.#connections.set(name, connection);
      this.#ofFlow.set(connection.flow, connection);
    }
    return connection;
  }
}
