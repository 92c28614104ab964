'use client';
import Checkbox from '@mui/material/Checkbox';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { toggled } from './toggled';

/** A host of the page, and how many of its assets come from it. */
export interface HostOfMap {
  host: string;
  assets: number;
  isThird: boolean;
}

/** Ticks off the hosts whose assets are shown. */
export function HostMenu({
  anchor,
  hosts,
  hidden,
  onHide,
  onClose,
}: {
  anchor: HTMLElement;
  hosts: readonly HostOfMap[];
  hidden: ReadonlySet<string>;
  onHide: (hidden: ReadonlySet<string>) => void;
  onClose: () => void;
}) {
  const third = new Set(hosts.filter((one) => one.isThird).map((one) => one.host));
  return (
    <Menu open anchorEl={anchor} onClose={onClose}>
      <MenuItem dense disabled={hidden.size === 0} onClick={() => onHide(new Set())}>
        Show all hosts
      </MenuItem>
      <MenuItem dense disabled={third.size === 0} onClick={() => onHide(third)}>
        Only the page’s own
      </MenuItem>
      {hosts.map(({ host, assets }) => (
        <MenuItem
          key={host}
          dense
          role="menuitemcheckbox"
          aria-checked={!hidden.has(host)}
          onClick={() => onHide(toggled(hidden, host))}
        >
          <Checkbox
            size="small"
            checked={!hidden.has(host)}
            tabIndex={-1}
            sx={{ padding: '0 8px 0 0' }}
            slotProps={{ input: { 'aria-hidden': true } }}
          />
          {host}{' '}
          <span className="muted" style={{ marginLeft: 6 }}>
            {assets}
          </span>
        </MenuItem>
      ))}
    </Menu>
  );
}
