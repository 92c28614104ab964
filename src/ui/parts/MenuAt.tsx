'use client';
import Menu from '@mui/material/Menu';
import type { ReactNode } from 'react';

/** A menu that has opened at its button: within the landmark of that, for whoever goes by those. */
export function MenuAt({
  anchor,
  onClose,
  children,
}: {
  anchor: HTMLElement;
  onClose: () => void;
  children: ReactNode;
}) {
  return (
    <Menu
      anchorEl={anchor}
      container={anchor.closest<HTMLElement>('main, header')}
      disableScrollLock
      open
      onClose={onClose}
    >
      {children}
    </Menu>
  );
}
