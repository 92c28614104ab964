'use client';
import Divider from '@mui/material/Divider';
import MenuItem from '@mui/material/MenuItem';
import { MenuAt } from '../parts/MenuAt';

/** One thing that can be done with a row; null is a line between. */
export type RowAct = { name: string; key?: string; act: () => void } | null;

/** What can be done with a row of the board. */
export function RowMenu({
  anchor,
  acts,
  onClose,
}: {
  anchor: HTMLElement;
  acts: readonly RowAct[];
  onClose: () => void;
}) {
  return (
    <MenuAt anchor={anchor} onClose={onClose}>
      {acts.map((one, index) =>
        one ? (
          <MenuItem
            key={one.name}
            onClick={() => {
              onClose();
              one.act();
            }}
          >
            <span style={{ flex: 1, paddingRight: 18 }}>{one.name}</span>
            {one.key ? <span className="key">{one.key}</span> : null}
          </MenuItem>
        ) : (
          <Divider key={index} />
        ),
      )}
    </MenuAt>
  );
}
