'use client';
import Divider from '@mui/material/Divider';
import MenuItem from '@mui/material/MenuItem';
import { describeConditions, type Conditions } from '@/core/measure/conditions';
import { speedOf, type Yardstick } from '@/core/measure/yardstick';
import { MenuAt } from './parts/MenuAt';

/** The conditions there are, and what can be done with the chosen ones. */
export function ConditionsMenu({
  anchor,
  all,
  chosen,
  isOwn,
  yardstick,
  onChoose,
  onEdit,
  onClose,
}: {
  anchor: HTMLElement;
  all: readonly Conditions[];
  chosen: Conditions;
  isOwn: boolean;
  yardstick: Yardstick | null;
  onChoose: (id: string) => void;
  onEdit: (how: 'copy' | 'own') => void;
  onClose: () => void;
}) {
  return (
    <MenuAt anchor={anchor} onClose={onClose}>
      {all.map((conditions) => (
        <MenuItem
          key={conditions.id}
          selected={conditions.id === chosen.id}
          onClick={() => onChoose(conditions.id)}
        >
          <span>
            {conditions.name} <span className="muted">{describeConditions(conditions)}</span>
          </span>
        </MenuItem>
      ))}
      <Divider />
      <MenuItem onClick={() => onEdit('copy')}>Copy {chosen.name} and change the copy</MenuItem>
      {isOwn ? <MenuItem onClick={() => onEdit('own')}>Edit {chosen.name}</MenuItem> : null}
      {yardstick ? (
        <MenuItem disabled>
          This machine runs at {Math.round(speedOf(yardstick) * 100)} % of full speed (
          {yardstick.machine.split(',')[0]})
        </MenuItem>
      ) : null}
    </MenuAt>
  );
}
