import type { ServerHttp2Session, ServerHttp2Stream } from 'node:http2';
import { nextToSend, readPriority, urgencyOfWeight, type Sendable } from '../../core/network/send-order.ts';

interface Response extends Sendable {
  stream: ServerHttp2Stream;
  body: Uint8Array;
  sent: number;
}

/**
 * Sends the bodies of one HTTP/2 connection in the order of their priorities, a piece at a time: the next piece
 * is chosen only when the last one has gone into the bottleneck, so that a more urgent response overtakes.
 */
export class ResponseScheduler {
  static #ofSession = new WeakMap<ServerHttp2Session, ResponseScheduler>();
  #responses = new Map<number, Response>();
  #sending = false;
  #lastId = 0;
  #pieceBytes: number;

  private constructor(pieceBytes: number) {
    this.#pieceBytes = pieceBytes;
  }

  /** The scheduler of a stream's connection. @param pieceBytes how much goes out before choosing again */
  static of(session: ServerHttp2Session, pieceBytes: number): ResponseScheduler {
    let scheduler = ResponseScheduler.#ofSession.get(session);
    if (!scheduler)
      ResponseScheduler.#ofSession.set(session, (scheduler = new ResponseScheduler(pieceBytes)));
    return scheduler;
  }

  /** Sends a body on a stream whose headers have been sent. */
  send(stream: ServerHttp2Stream, body: Uint8Array, priorityHeader: string | undefined): void {
    const response: Response = {
      id: stream.id ?? 0,
      priority: readPriority(priorityHeader),
      stream,
      body,
      sent: 0,
    };
    this.#responses.set(response.id, response);
    stream.on('priority', (_id: number, _parent: number, weight: number) => {
      response.priority = { ...response.priority, urgency: urgencyOfWeight(weight) };
    });
    stream.once('close', () => {
      this.#responses.delete(response.id);
    });
    this.#next();
  }

  #next(): void {
    if (this.#sending) return;
    const response = nextToSend(this.#responses.values(), this.#lastId);
    if (!response) return;
    const { stream, body } = response;
    const piece = body.subarray(response.sent, response.sent + this.#pieceBytes);
    response.sent += piece.length;
    this.#lastId = response.id;
    if (stream.destroyed || stream.closed) {
      this.#responses.delete(response.id);
      this.#next();
      return;
    }
    const last = response.sent >= body.length;
    if (last) this.#responses.delete(response.id);
    this.#sending = true;
    let told = false;
    const gone = () => {
      if (told) return;
      told = true;
      stream.off('close', gone);
      if (last && !stream.destroyed) stream.end();
      this.#sending = false;
      this.#next();
    };
    // A stream that is cancelled never reports its last write.
    stream.once('close', gone);
    stream.write(piece, gone);
  }
}
