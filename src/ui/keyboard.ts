'use client';
import { useEffect, useRef } from 'react';

/** Calls `act` on a key, anywhere but in a field (with Ctrl also there). */
export function useKey(key: string, act: () => void, options: { ctrl?: boolean } = {}): void {
  const latest = useRef(act);
  useEffect(() => {
    latest.current = act;
  });
  const ctrl = options.ctrl ?? false;
  useEffect(() => {
    const listen = (event: KeyboardEvent) => {
      if (
        event.key.toLowerCase() !== key.toLowerCase() ||
        (event.ctrlKey || event.metaKey) !== ctrl ||
        event.altKey
      )
        return;
      const target = event.target as HTMLElement | null;
      const typing = target?.closest(
        'input:not([type=checkbox]):not([type=radio]), textarea, select, [contenteditable=true], [role=dialog]',
      );
      if (typing && !ctrl) return;
      event.preventDefault();
      latest.current();
    };
    window.addEventListener('keydown', listen);
    return () => window.removeEventListener('keydown', listen);
  }, [key, ctrl]);
}
