import type { Capture, Header } from '../measure/exchange.ts';
import { isSecretHeader } from './redact.ts';

/** A value that stands for itself no longer: of which exchange, which of the headers that were sent, and what it was. */
export type HeldBack = readonly [exchange: number, header: number, value: string];

const HELD = 'kept apart';

/** A capture without the values of sent headers that let somebody in, and those values. @param given headers of the user's own */
export function holdBack(
  capture: Capture,
  given: readonly string[],
): { capture: Capture; held: readonly HeldBack[] } {
  const held: HeldBack[] = [];
  const isHeld = isSecretHeader(given);
  const exchanges = capture.exchanges.map((exchange, at) => ({
    ...exchange,
    requestHeaders: exchange.requestHeaders.map(([name, value], index): Header => {
      if (!isHeld(name)) return [name, value];
      held.push([at, index, value]);
      return [name, HELD];
    }),
  }));
  return { capture: { ...capture, exchanges }, held };
}

/** The capture as it was. */
export function giveBack(capture: Capture, held: readonly HeldBack[]): Capture {
  const valueOf = new Map(held.map(([at, index, value]) => [`${at} ${index}`, value]));
  return {
    ...capture,
    exchanges: capture.exchanges.map((exchange, at) => ({
      ...exchange,
      requestHeaders: exchange.requestHeaders.map(([name, value], index): Header => [
        name,
        valueOf.get(`${at} ${index}`) ?? value,
      ]),
    })),
  };
}
