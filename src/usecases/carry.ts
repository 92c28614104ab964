import type { OnRound, Order, ResultOf } from '../engine/jobs/orders.ts';

/** Carries an order out in a process of its own. */
export type Carry = <O extends Order>(order: O, onRound?: OnRound) => Promise<ResultOf<O['kind']>>;
