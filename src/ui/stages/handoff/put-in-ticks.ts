import { useSyncExternalStore } from 'react';

/** What of a page's hand-off was ticked off, kept in this browser. */
export interface Ticks {
  has(key: string): boolean;
  /** Ticks off all of some keys, or takes the ticks away. */
  set(keys: readonly string[], on: boolean): void;
}

const CHANGED = 'wistrel-put-in';
const NONE = '[]';

/** @param keys all that there is to tick off: what is no longer among it is forgotten with the next tick */
export function usePutInTicks(pageId: number, keys: readonly string[]): Ticks {
  const place = `${CHANGED}-${pageId}`;
  // On the server nothing is ticked: only the browser knows.
  const kept = useSyncExternalStore(
    listen,
    () => localStorage.getItem(place) ?? NONE,
    () => NONE,
  );
  const ticked = read(kept);
  return {
    has: (key) => ticked.has(key),
    set(changed, on) {
      const next = keys.filter((key) => (changed.includes(key) ? on : ticked.has(key)));
      localStorage.setItem(place, JSON.stringify(next));
      window.dispatchEvent(new Event(CHANGED));
    },
  };
}

/** Other tabs tell of a change by themselves, one's own does not. */
function listen(changed: () => void): () => void {
  window.addEventListener('storage', changed);
  window.addEventListener(CHANGED, changed);
  return () => {
    window.removeEventListener('storage', changed);
    window.removeEventListener(CHANGED, changed);
  };
}

function read(kept: string): ReadonlySet<string> {
  try {
    const found: unknown = JSON.parse(kept);
    return new Set(Array.isArray(found) ? found.map(String) : []);
  } catch {
    return new Set();
  }
}
