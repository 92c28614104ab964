'use client';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import type { Plan } from '@/core/treat/plan';
import type { TreatView } from '@/usecases/treat-view';
import { call } from '../../api';
import type { StageProps } from '../../parts/StageFrame';

/** What the plan of a page was, and what was recommended then: null where that was followed. */
type Stand = { plan: Plan; over: Plan } | null;

/** Saves a page's plan, and goes back and forth between what it was while the screen has been open. */
export interface PlanHistory {
  save(plan: Plan): void;
  /** Back to the recommended plan. */
  reset(): void;
  /** Null where there is nothing to undo. */
  undo: (() => void) | null;
  redo: (() => void) | null;
  pending: boolean;
  error: Error | null;
}

/** @param data the plan as it is, whether it is the user's own, and what is recommended */
export function usePlanHistory(
  { pageId, conditionsId }: Pick<StageProps, 'pageId' | 'conditionsId'>,
  { plan, own, recommended }: Pick<TreatView, 'plan' | 'own' | 'recommended'>,
): PlanHistory {
  const now: Stand = own ? { plan, over: recommended } : null;
  const client = useQueryClient();
  const [past, setPast] = useState<Stand[]>([]);
  const [future, setFuture] = useState<Stand[]>([]);
  const write = useMutation({
    mutationFn: (stand: Stand) =>
      stand
        ? call(`/api/pages/${pageId}/plan?conditions=${conditionsId}`, {
            method: 'PUT',
            body: { ...stand.plan, over: stand.over },
          })
        : call(`/api/pages/${pageId}/plan`, { method: 'DELETE' }),
    onSettled: () => client.invalidateQueries({ queryKey: ['page', pageId] }),
  });
  const change = (stand: Stand) => {
    setPast([...past, now]);
    setFuture([]);
    write.mutate(stand);
  };
  const [before, after] = [past.at(-1), future.at(-1)];
  return {
    save: (changed) => change({ plan: changed, over: recommended }),
    reset: () => change(null),
    undo:
      before === undefined
        ? null
        : () => {
            setPast(past.slice(0, -1));
            setFuture([...future, now]);
            write.mutate(before);
          },
    redo:
      after === undefined
        ? null
        : () => {
            setFuture(future.slice(0, -1));
            setPast([...past, now]);
            write.mutate(after);
          },
    pending: write.isPending,
    error: write.error,
  };
}
