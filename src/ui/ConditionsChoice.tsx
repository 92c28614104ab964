'use client';
import Divider from '@mui/material/Divider';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { usePathname, useRouter } from 'next/navigation';
import { useState } from 'react';
import { BUILT_IN_CONDITIONS, describeConditions, type Conditions } from '@/core/measure/conditions';
import { speedOf, type Yardstick } from '@/core/measure/yardstick';
import { useAnswer, useConditionsId } from './api';
import { CONDITIONS } from './questions';
import { ConditionsDialog } from './ConditionsDialog';

interface KnownConditions {
  builtIn: Conditions[];
  own: Conditions[];
  yardstick: Yardstick | null;
}

/** The conditions everything on the screen is under: choose, copy, edit. */
export function ConditionsChoice() {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [editing, setEditing] = useState<'copy' | 'own' | null>(null);
  const id = useConditionsId();
  const router = useRouter();
  const path = usePathname();
  const { data } = useAnswer<KnownConditions>(CONDITIONS);
  const all = [...BUILT_IN_CONDITIONS, ...(data?.own ?? [])];
  const chosen = all.find((one) => one.id === id) ?? BUILT_IN_CONDITIONS[0]!;
  const isOwn = !BUILT_IN_CONDITIONS.includes(chosen);
  const choose = (next: string) => {
    setAnchor(null);
    setEditing(null);
    router.push(`${path}?conditions=${next}`);
  };
  const edit = (how: 'copy' | 'own') => {
    setAnchor(null);
    setEditing(how);
  };
  return (
    <>
      <button
        type="button"
        className="box"
        aria-haspopup="menu"
        onClick={(event) => setAnchor(event.currentTarget)}
      >
        <b style={{ fontWeight: 600 }}>{chosen.name}</b>
        <span className="muted">{describeConditions(chosen)}</span> ▾
      </button>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)}>
        {all.map((conditions) => (
          <MenuItem
            key={conditions.id}
            selected={conditions.id === chosen.id}
            onClick={() => choose(conditions.id)}
          >
            <span>
              {conditions.name} <span className="muted">{describeConditions(conditions)}</span>
            </span>
          </MenuItem>
        ))}
        <Divider />
        <MenuItem onClick={() => edit('copy')}>Copy {chosen.name} and change the copy</MenuItem>
        {isOwn ? <MenuItem onClick={() => edit('own')}>Edit {chosen.name}</MenuItem> : null}
        {data?.yardstick ? (
          <MenuItem disabled>
            This machine runs at {Math.round(speedOf(data.yardstick) * 100)} % of full speed (
            {data.yardstick.machine.split(',')[0]})
          </MenuItem>
        ) : null}
      </Menu>
      {editing ? (
        <ConditionsDialog
          start={chosen}
          isNew={editing === 'copy'}
          onClose={() => setEditing(null)}
          onSaved={choose}
        />
      ) : null}
    </>
  );
}
