'use client';
import Link from 'next/link';
import type { ReactNode } from 'react';
import { ConditionsChoice } from './ConditionsChoice';
import { FindBox } from './FindBox';
import { Queue } from './Queue';
import './top-bar.css';

/**
 * The bar on every screen: where one is, under which conditions, what is running, and the find box.
 *
 * @param whole where one is, as text: there may not be room for all of it
 */
export function TopBar({ where, whole }: { where: ReactNode; whole: string }) {
  return (
    <header className="top">
      <Link prefetch={false} href="/" className="word" aria-label="Wistrel: the page board">
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
      <div className="where" title={whole}>
        {where}
      </div>
      <ConditionsChoice />
      <span className="gap" />
      <Queue />
      <FindBox />
    </header>
  );
}
