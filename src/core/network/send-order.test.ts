import { describe, expect, it } from 'vitest';
import { nextToSend, readPriority, urgencyOfWeight, type Sendable } from './send-order.ts';

const one = (id: number, urgency: number, incremental = false): Sendable => ({
  id,
  priority: { urgency, incremental },
});

describe('readPriority', () => {
  it.each([
    ['u=1, i', { urgency: 1, incremental: true }],
    ['u=0', { urgency: 0, incremental: false }],
    ['i', { urgency: 3, incremental: true }],
    ['u=9, i=?0', { urgency: 3, incremental: false }],
    [undefined, { urgency: 3, incremental: false }],
  ])('reads %s', (header, priority) => {
    expect(readPriority(header)).toEqual(priority);
  });

  it('takes the weights of the older frames for the urgency nearest', () => {
    expect([256, 220, 183, 147, 110, 1, 200].map(urgencyOfWeight)).toEqual([0, 1, 2, 3, 4, 7, 2]);
  });
});

describe('nextToSend', () => {
  it('sends the most urgent first, whatever was asked for before it', () => {
    expect(nextToSend([one(1, 3), one(5, 0), one(3, 1)], 1)?.id).toBe(5);
    expect(nextToSend([], 0)).toBeNull();
  });

  it('sends equals one after another, unless they are of use in part: those take turns', () => {
    expect(nextToSend([one(3, 2), one(1, 2)], 1)?.id).toBe(1);
    const parts = [one(1, 2, true), one(3, 2, true), one(5, 2, true)];
    expect([1, 3, 5].map((last) => nextToSend(parts, last)?.id)).toEqual([3, 5, 1]);
  });
});
