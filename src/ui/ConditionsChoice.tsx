'use client';
import { usePathname, useRouter } from 'next/navigation';
import { lazy, useState } from 'react';
import { BUILT_IN_CONDITIONS, describeConditions, type Conditions } from '@/core/measure/conditions';
import type { Yardstick } from '@/core/measure/yardstick';
import { useAnswer, useConditionsId } from './api';
import { CONDITIONS } from './questions';
import { Later } from './parts/Later';

const ConditionsMenu = lazy(() =>
  import('./ConditionsMenu').then((one) => ({ default: one.ConditionsMenu })),
);
const ConditionsDialog = lazy(() =>
  import('./ConditionsDialog').then((one) => ({ default: one.ConditionsDialog })),
);

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
        className="box conditions"
        aria-haspopup="menu"
        title={describeConditions(chosen)}
        onClick={(event) => setAnchor(event.currentTarget)}
      >
        <b style={{ fontWeight: 600 }}>{chosen.name}</b>
        <span className="muted">{describeConditions(chosen)}</span> ▾
      </button>
      {anchor ? (
        <Later>
          <ConditionsMenu
            anchor={anchor}
            all={all}
            chosen={chosen}
            isOwn={isOwn}
            yardstick={data?.yardstick ?? null}
            onChoose={choose}
            onEdit={edit}
            onClose={() => setAnchor(null)}
          />
        </Later>
      ) : null}
      {editing ? (
        <Later>
          <ConditionsDialog
            start={chosen}
            isNew={editing === 'copy'}
            onClose={() => setEditing(null)}
            onSaved={choose}
          />
        </Later>
      ) : null}
    </>
  );
}
