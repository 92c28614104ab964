/**
 * What has to be in the page's own world: it is small, and keeps its own references to what it uses, as pages may put
 * others in their place.
 */
const { floor, imul } = Math;
const { construct } = Reflect;
const { setPrototypeOf, defineProperty } = Object;
const RealDate = Date;
const realNow = performance.now.bind(performance);

/**
 * Runs in every frame before any script of the page: `Date` starts at the capture's time and goes on with the
 * real clock, `Math.random` and `crypto` give a seeded sequence. So addresses built from them are the same.
 */
export function setClock(seed: number, startMs: number): void {
  seedChance(seed);
  shiftDate(startMs);
}

function seedChance(seed: number): void {
  let state = seed >>> 0;
  // mulberry32: 32 bits of state, good enough for addresses and never for secrets.
  const next = () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let mixed = imul(state ^ (state >>> 15), 1 | state);
    mixed = (mixed + imul(mixed ^ (mixed >>> 7), 61 | mixed)) ^ mixed;
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4_294_967_296;
  };
  Math.random = next;
  const fill = <T extends ArrayBufferView | null>(array: T): T => {
    if (array) {
      const bytes = new Uint8Array(array.buffer, array.byteOffset, array.byteLength);
      for (let i = 0; i < bytes.length; i++) bytes[i] = floor(next() * 256);
    }
    return array;
  };
  if (!globalThis.crypto) return;
  const put = (name: string, value: unknown) =>
    defineProperty(Crypto.prototype, name, { value, configurable: true, writable: true });
  put('getRandomValues', fill);
  put('randomUUID', () => {
    const hex = Array.from(fill(new Uint8Array(16)), (byte, index) =>
      (index === 6 ? (byte & 15) | 64 : index === 8 ? (byte & 63) | 128 : byte).toString(16).padStart(2, '0'),
    ).join('');
    return hex.replace(/^(.{8})(.{4})(.{4})(.{4})(.{12})$/, '$1-$2-$3-$4-$5');
  });
}

function shiftDate(startMs: number): void {
  const now = () => floor(startMs + realNow());
  const ShiftedDate = function (this: unknown, ...parts: unknown[]) {
    if (!new.target) return new RealDate(now()).toString();
    return construct(RealDate, parts.length === 0 ? [now()] : parts, new.target) as Date;
  };
  setPrototypeOf(ShiftedDate, RealDate);
  ShiftedDate.prototype = RealDate.prototype;
  defineProperty(ShiftedDate, 'now', { value: now, configurable: true, writable: true });
  defineProperty(ShiftedDate, 'name', { value: 'Date' });
  RealDate.prototype.constructor = ShiftedDate;
  (globalThis as { Date: unknown }).Date = ShiftedDate;
}
