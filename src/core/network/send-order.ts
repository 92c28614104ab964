import { parseDictionary, type Dictionary } from 'structured-headers';

/** How a response wants to be sent (RFC 9218, section 4): 0 is the most urgent, 7 the least. */
export interface SendPriority {
  urgency: number;
  incremental: boolean;
}

const DEFAULT_URGENCY = 3;

/** Reads a `priority` request header: "u=1, i". What is missing or wrong takes its default (RFC 9218, 4). */
export function readPriority(header: string | undefined): SendPriority {
  const members = dictionaryOf(header ?? '');
  const urgency = members?.get('u')?.[0];
  const isUrgency = typeof urgency === 'number' && Number.isInteger(urgency) && urgency >= 0 && urgency <= 7;
  return { urgency: isUrgency ? urgency : DEFAULT_URGENCY, incremental: members?.get('i')?.[0] === true };
}

/** A header that is no dictionary (RFC 9651) is as if it were not there. */
function dictionaryOf(header: string): Dictionary | null {
  try {
    return parseDictionary(header);
  } catch {
    return null;
  }
}

/** The weights by which Chromium says urgency 0 to 7 in PRIORITY frames of the older kind (RFC 7540, 5.3). */
const WEIGHTS = [256, 220, 183, 147, 110, 73, 37, 1];

/** The urgency that a PRIORITY frame's weight stands for. */
export function urgencyOfWeight(weight: number): number {
  let best = 0;
  WEIGHTS.forEach((one, urgency) => {
    if (Math.abs(one - weight) < Math.abs(WEIGHTS[best]! - weight)) best = urgency;
  });
  return best;
}

/** How much of a response goes out on its connection before the next one is chosen. */
export const PIECE_BYTES = 4_096;

/** A response that has bytes to send. */
export interface Sendable {
  /** Stream number: the order in which responses were asked for. */
  id: number;
  priority: SendPriority;
}

/**
 * Which response sends next on a connection (RFC 9218, section 10): the most urgent; of equals the one asked
 * for first, and those that are of use in part take turns.
 *
 * @param lastId who sent last, for the turns
 */
export function nextToSend<T extends Sendable>(all: Iterable<T>, lastId: number): T | null {
  let first: T | null = null;
  // Of those that share: the one whose turn it is after the last.
  let turn: T | null = null;
  for (const one of all) {
    const { urgency } = one.priority;
    const most = first?.priority.urgency ?? Infinity;
    if (urgency > most) continue;
    if (urgency < most) first = turn = null;
    if (!first || one.id < first.id) first = one;
    if (one.priority.incremental && one.id > lastId && (!turn || one.id < turn.id)) turn = one;
  }
  return first?.priority.incremental ? (turn ?? first) : first;
}
