'use client';
import { useEffect, useRef } from 'react';
import { FIELDS, PRESSED, takeEarlyKeys, takeKey } from './early-keys';

/** Calls `act` on a key, anywhere but in a field (with Ctrl also there). */
export function useKey(key: string, act: () => void, { ctrl = false }: { ctrl?: boolean } = {}): void {
  useKeys({ [key.toLowerCase()]: act }, { ctrl });
}

/** Calls what stands under a key (in small letters), anywhere but in a field (with Ctrl also there). */
export function useKeys(
  acts: Readonly<Record<string, () => void>>,
  { ctrl = false }: { ctrl?: boolean } = {},
): void {
  const latest = useRef(acts);
  useEffect(() => {
    latest.current = acts;
  });
  useEffect(() => {
    const listen = (event: KeyboardEvent) => {
      const key = event.key.toLowerCase();
      if (!Object.hasOwn(latest.current, key)) return;
      if ((event.ctrlKey || event.metaKey) !== ctrl || event.altKey) return;
      if ((event.target as HTMLElement | null)?.closest(FIELDS) && !ctrl) return;
      if (/^(enter| )$/.test(key) && (event.target as HTMLElement | null)?.closest(PRESSED)) return;
      event.preventDefault();
      if (!takeKey(event)) return;
      latest.current[key]!();
    };
    window.addEventListener('keydown', listen);
    for (const { key } of takeEarlyKeys((one) => one.ctrl === ctrl && Object.hasOwn(latest.current, one.key)))
      latest.current[key]!();
    return () => window.removeEventListener('keydown', listen);
  }, [ctrl]);
}
