import { EventEmitter } from 'node:events';
import type { Browser, CDPSession } from 'puppeteer-core';
import { describe, expect, it } from 'vitest';
import { BODY_LIMIT, CAPTURE_LIMIT } from '../limits.ts';
import { intercept, noHindrances, type Answer } from './intercept.ts';

/** A session of the browser's that notes what it is asked, and has a body of so many bytes for everything. */
class Session extends EventEmitter {
  readonly asked: string[] = [];
  readonly #bytes: number;

  constructor(bytes: number) {
    super();
    this.#bytes = bytes;
  }

  send(method: string): Promise<unknown> {
    this.asked.push(method);
    return Promise.resolve(
      method === 'Fetch.getResponseBody'
        ? { body: 'x'.repeat(this.#bytes), base64Encoded: false }
        : { frameTree: { frame: { id: 'F' } } },
    );
  }
}

/** What is taken of an answer that says how large it is, and is so large. */
async function taken(saidBytes: number, bytes: number, answers: Answer[] = []) {
  const session = new Session(bytes);
  await intercept(session as unknown as CDPSession, false, {
    answers,
    add: null,
    hindrances: noHindrances(),
    // Only documents are asked for once more.
    browser: {} as Browser,
  });
  session.emit('Fetch.requestPaused', {
    requestId: '1',
    request: { method: 'GET', url: 'https://quay.test/film.mp4', headers: {} },
    responseStatusCode: 200,
    responseHeaders: [{ name: 'Content-Length', value: String(saidBytes) }],
  });
  await expect.poll(() => session.asked.at(-1)).toBe('Fetch.continueRequest');
  return { answer: answers.at(-1)!, asked: session.asked };
}

const holding = (bytes: number): Answer => ({
  method: 'GET',
  url: 'https://quay.test/',
  status: 200,
  headers: [],
  body: new Uint8Array(bytes),
  reason: null,
  leftOut: null,
});

describe('an answer', () => {
  it('is taken where it is no larger than may be', async () => {
    const { answer } = await taken(9, 9);
    expect([answer.body?.length, answer.leftOut]).toEqual([9, null]);
  });

  it('that says it is larger is not taken into memory at all, and goes on to the page', async () => {
    const { answer, asked } = await taken(BODY_LIMIT + 1, 9);
    expect(asked).not.toContain('Fetch.getResponseBody');
    expect([answer.body, answer.leftOut]).toEqual([null, 'is over 25 MB']);
  });

  it('that turns out larger, unpacked, is let go at once', async () => {
    const { answer } = await taken(200, BODY_LIMIT + 1);
    expect([answer.body, answer.leftOut]).toEqual([null, 'is over 25 MB']);
  });

  it('for which the others leave no room is left out, however small', async () => {
    const { answer, asked } = await taken(9, 9, [holding(CAPTURE_LIMIT)]);
    expect(asked).not.toContain('Fetch.getResponseBody');
    expect(answer.leftOut).toBe('would make the capture larger than 250 MB');
  });
});
