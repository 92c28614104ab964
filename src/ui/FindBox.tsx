'use client';
import { lazy, useState } from 'react';
import { useKey } from './keyboard';
import { Later } from './parts/Later';

const FindDialog = lazy(() => import('./FindDialog').then((one) => ({ default: one.FindDialog })));
const BackUpDialog = lazy(() => import('./BackUpDialog').then((one) => ({ default: one.BackUpDialog })));

/** Finds pages and stages by name: Ctrl K anywhere. */
export function FindBox() {
  const [open, setOpen] = useState<'find' | 'back up' | null>(null);
  const [typed, setTyped] = useState('');
  const find = () => {
    setTyped('');
    setOpen('find');
  };
  useKey('k', find, { ctrl: true });
  return (
    <>
      <button type="button" className="box" onClick={find}>
        Find <span className="key">Ctrl K</span>
      </button>
      {open === 'find' ? (
        <Later onTyped={setTyped}>
          <FindDialog typed={typed} onDone={() => setOpen(null)} onBackUp={() => setOpen('back up')} />
        </Later>
      ) : null}
      {open === 'back up' ? (
        <Later>
          <BackUpDialog onClose={() => setOpen(null)} />
        </Later>
      ) : null}
    </>
  );
}
