import type { CDPSession } from 'puppeteer-core';
import type { PageClock } from '../../core/measure/exchange.ts';

/** The clock of a capture: its seed and time are stored with it. */
export function newClock(): PageClock {
  return { seed: (Date.now() % 2 ** 31) + 1, startMs: Date.now() };
}

/**
 * Runs in every frame before any script of the page: `Date` starts at the capture's time and goes on with the
 * real clock, `Math.random` and `crypto` give a seeded sequence. So addresses built from them are the same.
 */
function setClock(seed: number, startMs: number): void {
  let state = seed >>> 0;
  // mulberry32: 32 bits of state, good enough for addresses and never for secrets.
  const next = () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let mixed = Math.imul(state ^ (state >>> 15), 1 | state);
    mixed = (mixed + Math.imul(mixed ^ (mixed >>> 7), 61 | mixed)) ^ mixed;
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4_294_967_296;
  };
  Math.random = next;
  const fill = <T extends ArrayBufferView | null>(array: T): T => {
    if (array) {
      const bytes = new Uint8Array(array.buffer, array.byteOffset, array.byteLength);
      for (let i = 0; i < bytes.length; i++) bytes[i] = Math.floor(next() * 256);
    }
    return array;
  };
  if (globalThis.crypto) {
    Object.defineProperty(Crypto.prototype, 'getRandomValues', {
      value: fill,
      configurable: true,
      writable: true,
    });
    Object.defineProperty(Crypto.prototype, 'randomUUID', {
      value: () => {
        const hex = Array.from(fill(new Uint8Array(16)), (byte, index) =>
          (index === 6 ? (byte & 15) | 64 : index === 8 ? (byte & 63) | 128 : byte)
            .toString(16)
            .padStart(2, '0'),
        ).join('');
        return hex.replace(/^(.{8})(.{4})(.{4})(.{4})(.{12})$/, '$1-$2-$3-$4-$5');
      },
      configurable: true,
      writable: true,
    });
  }
  const RealDate = Date;
  const now = () => Math.floor(startMs + performance.now());
  const ShiftedDate = function (this: unknown, ...parts: unknown[]) {
    if (!new.target) return new RealDate(now()).toString();
    return Reflect.construct(RealDate, parts.length === 0 ? [now()] : parts, new.target) as Date;
  };
  Object.setPrototypeOf(ShiftedDate, RealDate);
  ShiftedDate.prototype = RealDate.prototype;
  Object.defineProperty(ShiftedDate, 'now', { value: now, configurable: true, writable: true });
  Object.defineProperty(ShiftedDate, 'name', { value: 'Date' });
  RealDate.prototype.constructor = ShiftedDate;
  (globalThis as { Date: unknown }).Date = ShiftedDate;
}

/** Sets the clock of a target, before it runs. Workers keep the real one. */
export async function applyClock(session: CDPSession, clock: PageClock): Promise<void> {
  await session.send('Page.enable');
  await session.send('Page.addScriptToEvaluateOnNewDocument', {
    // The build may wrap functions in a helper that keeps their names; the page has no such helper.
    source: `{ const __name = (f) => f; (${setClock.toString()})(${clock.seed}, ${clock.startMs}); }`,
    runImmediately: true,
  });
}
