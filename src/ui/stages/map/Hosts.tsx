'use client';
import { lazy, useState } from 'react';
import type { OutsideHost } from '@/core/path/outside-hosts';
import { OnceThere } from '../../parts/Later';

const HostTable = lazy(() => import('./HostTable').then((one) => ({ default: one.HostTable })));

/** The hosts that the page asks besides its own: what for, when, and what connecting to each costs. */
export function Hosts({ hosts }: { hosts: readonly OutsideHost[] }) {
  const [open, setOpen] = useState(false);
  if (hosts.length === 0) return null;
  const before = hosts.filter((one) => one.beforePaint).length;
  return (
    <details
      className="sheet"
      style={{ padding: '6px 12px', margin: '10px 0' }}
      onToggle={(event) => setOpen(event.currentTarget.open)}
    >
      <summary>
        <b>
          {hosts.length === 1 ? 'One other host' : `${hosts.length} other hosts`}, {before} asked before the
          paint
        </b>
      </summary>
      {open ? (
        <OnceThere>
          <HostTable hosts={hosts} />
        </OnceThere>
      ) : null}
    </details>
  );
}
