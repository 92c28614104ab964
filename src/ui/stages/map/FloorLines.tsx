'use client';
import { lazy } from 'react';
import type { Floor } from '@/core/path/floor';
import { OnceThere } from '../../parts/Later';

const FloorTable = lazy(() => import('./FloorTable').then((one) => ({ default: one.FloorTable })));

/** The floor line by line, as the bill is: what no treatment takes away. */
export function FloorLines({
  floor,
  open,
  onOpen,
}: {
  floor: Floor;
  open: boolean;
  onOpen: (open: boolean) => void;
}) {
  return (
    <details
      id="floor"
      className="bill-lines"
      open={open}
      onToggle={(event) => onOpen(event.currentTarget.open)}
    >
      <summary>The floor, line by line</summary>
      {open ? (
        <OnceThere>
          <FloorTable floor={floor} />
        </OnceThere>
      ) : null}
    </details>
  );
}
