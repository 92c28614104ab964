import type { OnSoFar, Order, ResultOf } from '../engine/jobs/orders.ts';

/** Carries an order out in a process of its own. @param onSoFar told what has been found of what is not finished yet */
export type Carry = <O extends Order>(order: O, onSoFar?: OnSoFar) => Promise<ResultOf<O['kind']>>;
