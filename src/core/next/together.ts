import type { Bodies, Capture } from '../measure/exchange.ts';

/** A page's capture with what another page's holds besides: from one the other can be reached. */
export function together(
  page: { capture: Capture; bodies: Bodies },
  other: { capture: Capture; bodies: Bodies },
): { capture: Capture; bodies: Map<string, Uint8Array> } {
  const keyOf = ({ method, url }: { method: string; url: string }) => `${method} ${url.replace(/#.*$/, '')}`;
  const own = new Set(page.capture.exchanges.map(keyOf));
  const more = other.capture.exchanges.filter((one) => !own.has(keyOf(one)));
  const last = page.capture.exchanges.length;
  return {
    capture: {
      ...page.capture,
      exchanges: [...page.capture.exchanges, ...more.map((one, index) => ({ ...one, order: last + index }))],
    },
    bodies: new Map([...other.bodies, ...page.bodies]),
  };
}
