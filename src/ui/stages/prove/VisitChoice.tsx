'use client';
import Link from 'next/link';
import { VISIT_KINDS, type VisitKind } from '@/core/measure/visit';
import { useVisit } from '../../api';
import type { StageProps } from '../../parts/StageFrame';

const NAMES: Record<VisitKind, string> = { first: 'First visits', return: 'Return visits' };

/** Which visits are timed: those of who comes with nothing, or of who was there before. */
export function VisitChoice({ pageId, conditionsId }: StageProps) {
  const chosen = useVisit();
  return (
    <nav aria-label="Visits that are timed" className="row visits" style={{ margin: '0 0 8px' }}>
      <span className="muted">Timed:</span>
      {VISIT_KINDS.map((visit) => (
        <Link
          key={visit}
          prefetch={false}
          aria-current={visit === chosen ? 'page' : undefined}
          href={`/pages/${pageId}/prove?conditions=${conditionsId}${visit === 'first' ? '' : `&visit=${visit}`}`}
        >
          {NAMES[visit]}
        </Link>
      ))}
    </nav>
  );
}
