import { describe, expect, it } from 'vitest';
import { INITIAL_WINDOW_BYTES, Link, PACKET_BYTES, type Departure, type Flow } from './link.ts';

/** 12 kbps is 1,500 bytes a second: a full packet takes exactly 1,000 ms. */
const slow = { kbps: 12, oneWayMs: 50, roundTripMs: 100 };
/** A full packet takes exactly 1 ms. */
const fast = { kbps: 12_000, oneWayMs: 50, roundTripMs: 100 };

function drain(link: Link, untilMs: number): Departure[] {
  const all: Departure[] = [];
  for (let next = link.send(untilMs); next; next = link.send(untilMs)) all.push(next);
  return all;
}

const arrivals = (all: readonly Departure[], flow: Flow) =>
  all.filter((one) => one.flow === flow).map((one) => one.arrivesMs);

describe('Link', () => {
  it('sends packets one after another at its rate, and they arrive half a round trip later', () => {
    const link = new Link(slow);
    const flow = link.open();
    link.push(flow, 2 * PACKET_BYTES, 0);
    expect(drain(link, 10_000).map((one) => [one.leftMs, one.arrivesMs])).toEqual([
      [1_000, 1_050],
      [2_000, 2_050],
    ]);
    expect(link.sentBytes).toBe(3_000);
  });

  it('gives nothing before its time, and says when the next packet is due', () => {
    const link = new Link(slow);
    const flow = link.open();
    link.push(flow, PACKET_BYTES, 300);
    expect(link.send(299)).toBeNull();
    expect(link.nextMs()).toBe(300);
    expect(link.send(300)?.leftMs).toBe(1_300);
    expect(link.nextMs()).toBeNull();
  });

  it('lets connections take turns', () => {
    const link = new Link(slow);
    const [a, b] = [link.open(), link.open()];
    link.push(a, 3 * PACKET_BYTES, 0);
    link.push(b, 2 * PACKET_BYTES, 0);
    const all = drain(link, 10_000);
    expect(arrivals(all, a)).toEqual([1_050, 3_050, 5_050]);
    expect(arrivals(all, b)).toEqual([2_050, 4_050]);
  });

  it('holds a new connection to its first window for a round trip, then doubles it', () => {
    const link = new Link(fast);
    const flow = link.open();
    link.push(flow, 60 * PACKET_BYTES, 0);
    const left = drain(link, 10_000).map((one) => one.leftMs);
    // Ten packets at once, then two for each acknowledgement: the first comes 100 ms after the first packet left.
    expect(left.slice(0, 10)).toEqual([1, 2, 3, 4, 5, 6, 7, 8, 9, 10]);
    expect(left[10]).toBe(102);
    expect(left[29]).toBe(121);
    expect(left[30]).toBe(203);
    expect(flow.windowBytes).toBeGreaterThanOrEqual(4 * INITIAL_WINDOW_BYTES);
  });

  it('is not slowed by another connection’s window', () => {
    const link = new Link(fast);
    const [a, b] = [link.open(), link.open()];
    link.push(a, 11 * PACKET_BYTES, 0);
    link.push(b, PACKET_BYTES, 20);
    const all = drain(link, 50);
    expect(arrivals(all, b)).toEqual([71]);
    expect(arrivals(all, a)).toHaveLength(10);
  });

  it('forgets a closed connection', () => {
    const link = new Link(slow);
    const [a, b] = [link.open(), link.open()];
    link.push(a, PACKET_BYTES, 0);
    link.push(b, PACKET_BYTES, 0);
    link.close(a);
    expect(drain(link, 10_000).map((one) => one.flow)).toEqual([b]);
  });
});
