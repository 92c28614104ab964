import { describe, expect, it } from 'vitest';
import { arrivalsOf, type LineResponse } from './arrivals.ts';

// 1,200 kbit a second carry 150 bytes a millisecond: a full packet with its overhead takes 10 ms.
const rate = { downKbps: 1_200, roundTripMs: 100 };
const PACKET = 1_460;

function response(over: Partial<LineResponse>): LineResponse {
  return {
    connection: 'a',
    readyMs: 0,
    bytes: PACKET,
    priority: { urgency: 0, incremental: false },
    ...over,
  };
}

describe('arrivals on a line', () => {
  it('take the bytes’ time and half a round trip', () => {
    expect(arrivalsOf([response({ readyMs: 20, bytes: 3 * PACKET })], rate)).toEqual([20 + 30 + 50]);
  });

  it('of equals on one connection come one after the other, on two in turns', () => {
    const four = { bytes: 4 * PACKET };
    expect(arrivalsOf([response(four), response(four)], rate)).toEqual([90, 130]);
    expect(arrivalsOf([response(four), response({ ...four, connection: 'b' })], rate)).toEqual([120, 130]);
  });

  it('that are of use in part take turns on one connection too', () => {
    const picture = { bytes: 60_000, priority: { urgency: 3, incremental: true } };
    const [first, second] = arrivalsOf([response(picture), response(picture)], rate);
    // One after the other they would be 411 ms apart.
    expect(second! - first!).toBeLessThan(150);
  });

  it('of the more urgent overtake all but what is under way', () => {
    const picture = response({ bytes: 100 * PACKET, priority: { urgency: 3, incremental: true } });
    const alone = arrivalsOf([response({ readyMs: 400 })], rate)[0]!;
    const behind = arrivalsOf([picture, response({ readyMs: 400 })], rate)[1]!;
    // Between 18,000 and 22,096 bytes stand before it, of 146,000.
    expect(behind - alone).toBeGreaterThan(120);
    expect(behind - alone).toBeLessThan(165);
  });

  it('wait for acknowledgements once ten packets are out on a new connection', () => {
    expect(arrivalsOf([response({ bytes: 10 * PACKET })], { ...rate, downKbps: 12_000 })[0]).toBeCloseTo(
      60,
      6,
    );
    // The eleventh leaves when the first, gone after 1 ms, is acknowledged a round trip later.
    expect(arrivalsOf([response({ bytes: 11 * PACKET })], { ...rate, downKbps: 12_000 })[0]).toBeCloseTo(
      101 + 1 + 50,
      6,
    );
  });

  it('of nothing come when the server has answered', () => {
    expect(arrivalsOf([response({ readyMs: 30, bytes: 0 })], rate)).toEqual([80]);
    expect(arrivalsOf([], rate)).toEqual([]);
  });
});
