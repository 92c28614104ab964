'use client';
import { lazy, useState } from 'react';
import { useKey } from './keyboard';
import { Later } from './parts/Later';

const KeysDialog = lazy(() => import('./KeysDialog').then((one) => ({ default: one.KeysDialog })));

/** The keys, on “?”. */
export function KeysHelp() {
  const [open, setOpen] = useState(false);
  useKey('?', () => setOpen(true));
  return open ? (
    <Later>
      <KeysDialog onClose={() => setOpen(false)} />
    </Later>
  ) : null;
}
