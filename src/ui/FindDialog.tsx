'use client';
import Dialog from '@mui/material/Dialog';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import type { BoardView } from '@/usecases/board-view';
import { useAnswer, useConditionsId } from './api';
import { boardQuestion } from './questions';
import { STAGES } from './stage-names';

interface FinderProps {
  /** What was typed before it was there. */
  typed: string;
  onDone: () => void;
  onBackUp: () => void;
}

/** Pages and stages by name, the nearest to what is typed. */
export function FindDialog(props: FinderProps) {
  return (
    <Dialog open onClose={props.onDone} fullWidth maxWidth="sm" aria-label="Find a page or stage">
      <Finder {...props} />
    </Dialog>
  );
}

/** Found like a place, and no place. */
const BACK_UP = { label: 'Back up: download all that is stored as one file', href: '' };

function Finder({ typed, onDone, onBackUp }: FinderProps) {
  const [text, setText] = useState(typed);
  const [at, setAt] = useState(0);
  const router = useRouter();
  const conditionsId = useConditionsId();
  const { data } = useAnswer<BoardView>(boardQuestion(conditionsId));
  const places = [
    { label: 'Page board', href: '/' },
    BACK_UP,
    ...(data?.sites ?? []).flatMap((site) =>
      site.pages.flatMap((page) =>
        STAGES.map((stage) => ({
          label: `${site.name} / ${page.name} / ${stage.name}`,
          href: `/pages/${page.id}/${stage.key}`,
        })),
      ),
    ),
  ];
  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  const found = places
    .filter((place) => words.every((word) => place.label.toLowerCase().includes(word)))
    .slice(0, 12);
  const go = (href: string) => {
    if (href === BACK_UP.href) return onBackUp();
    onDone();
    router.push(`${href}?conditions=${conditionsId}`);
  };
  return (
    <div style={{ padding: 14 }}>
      <input
        autoFocus
        aria-label="Find"
        placeholder="A page, a stage…"
        value={text}
        onChange={(event) => {
          setText(event.target.value);
          setAt(0);
        }}
        onKeyDown={(event) => {
          if (event.key === 'ArrowDown') setAt((now) => Math.min(now + 1, found.length - 1));
          if (event.key === 'ArrowUp') setAt((now) => Math.max(now - 1, 0));
          if (event.key === 'Enter' && found[at]) go(found[at].href);
        }}
        style={{
          width: '100%',
          font: 'inherit',
          padding: '7px 10px',
          border: '1px solid var(--line)',
          borderRadius: 6,
          background: 'var(--paper)',
          color: 'var(--ink)',
        }}
      />
      <ul role="listbox" aria-label="Found" style={{ listStyle: 'none', margin: '8px 0 0', padding: 0 }}>
        {found.map((place, index) => (
          <li
            key={place.href}
            role="option"
            aria-selected={index === at}
            onClick={() => go(place.href)}
            style={{
              padding: '5px 10px',
              cursor: 'pointer',
              background: index === at ? 'var(--selected)' : undefined,
            }}
          >
            {place.label}
          </li>
        ))}
        {found.length === 0 ? <li className="muted">Nothing of that name.</li> : null}
      </ul>
    </div>
  );
}
