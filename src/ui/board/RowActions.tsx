'use client';
import { lazy, useState } from 'react';
import { Later } from '../parts/Later';
import type { RowAct } from './RowMenu';

const RowMenu = lazy(() => import('./RowMenu').then((one) => ({ default: one.RowMenu })));

/** The button that opens all that can be done with a row. @param id by which a key finds it */
export function RowActions({ id, name, acts }: { id?: string; name: string; acts: readonly RowAct[] }) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  return (
    <>
      <button
        type="button"
        id={id}
        className="row-actions"
        aria-haspopup="menu"
        aria-expanded={anchor !== null}
        aria-label={`What to do with ${name}`}
        onClick={(event) => setAnchor(event.currentTarget)}
      >
        ⋯
      </button>
      {anchor ? (
        <Later>
          <RowMenu anchor={anchor} acts={acts} onClose={() => setAnchor(null)} />
        </Later>
      ) : null}
    </>
  );
}
