'use client';
import LinearProgress from '@mui/material/LinearProgress';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import Link from 'next/link';
import { usePathname, useRouter } from 'next/navigation';
import { useState, type ReactNode } from 'react';
import { BUILT_IN_CONDITIONS, describeConditions, findConditions } from '@/core/measure/conditions';
import { useCancelJob, useConditionsId, useJobs } from './api';
import { FindBox } from './FindBox';

/** The bar on every screen: where one is, under which conditions, what is running, and the find box. */
export function TopBar({ where }: { where: ReactNode }) {
  return (
    <header className="top">
      <Link href="/" className="word" aria-label="Wistrel: the page board">
        <svg
          width="22"
          height="20"
          viewBox="0 0 24 24"
          fill="none"
          strokeWidth="3"
          strokeLinecap="round"
          aria-hidden
        >
          <path stroke="var(--ink)" d="M3 6h5M3 18h3M3 12h8M18 12h3" />
          <path stroke="var(--ochre)" d="M14.5 4v16" />
        </svg>
        wistrel
      </Link>
      <div className="where">{where}</div>
      <ConditionsChoice />
      <span className="gap" />
      <Running />
      <FindBox />
    </header>
  );
}

function ConditionsChoice() {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const chosen = findConditions(useConditionsId()) ?? BUILT_IN_CONDITIONS[0]!;
  const router = useRouter();
  const path = usePathname();
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
        {BUILT_IN_CONDITIONS.map((conditions) => (
          <MenuItem
            key={conditions.id}
            selected={conditions.id === chosen.id}
            onClick={() => {
              setAnchor(null);
              router.push(`${path}?conditions=${conditions.id}`);
            }}
          >
            <span>
              {conditions.name} <span className="muted">{describeConditions(conditions)}</span>
            </span>
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}

const DOING = { measure: 'Measuring', fold: 'Fold CSS for', trial: 'Trial of' } as const;

function Running() {
  const jobs = useJobs();
  const cancel = useCancelJob();
  const running = jobs.find((job) => job.state === 'running');
  const waiting = jobs.filter((job) => job.state === 'waiting').length;
  if (!running && waiting === 0) return null;
  return (
    <span className="box" role="status" style={{ cursor: 'default' }}>
      {running ? (
        <>
          <span>
            {DOING[running.kind]} {running.pageName} <span className="muted">{running.step}</span>
          </span>
          <LinearProgress
            variant="determinate"
            aria-label="Progress"
            sx={{ width: 60 }}
            value={running.total ? Math.min(100, (100 * running.done) / running.total) : 0}
          />
          <button type="button" className="key" onClick={() => cancel.mutate(running.id)}>
            cancel
          </button>
        </>
      ) : null}
      {waiting > 0 ? <span className="muted">{waiting} waiting</span> : null}
    </span>
  );
}
