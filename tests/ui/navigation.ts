import { useSyncExternalStore } from 'react';

/** Where the user is: stands in for the router of Next, which needs a server. */
let place = new URL('http://127.0.0.1/');
const listeners = new Set<() => void>();

export function goTo(href: string): void {
  place = new URL(href, place);
  for (const listener of listeners) listener();
}

export function placeNow(): string {
  return place.pathname + place.search;
}

export function usePlace(): URL {
  return useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => place,
  );
}

const router = { push: goTo };

// The names under which the screens import them from next/navigation.
export const useRouter = () => router;
export const usePathname = () => usePlace().pathname;
export const useSearchParams = () => usePlace().searchParams;
