'use client';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import type { Plan } from '@/core/treat/plan';
import { call } from '../../api';
import type { StageProps } from '../../parts/StageFrame';

/** What the plan of a page was: null for the recommended one. */
type Stand = Plan | null;

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

/** @param now the plan as it is; null for the recommended one */
export function usePlanHistory(
  { pageId, conditionsId }: Pick<StageProps, 'pageId' | 'conditionsId'>,
  now: Stand,
): PlanHistory {
  const client = useQueryClient();
  const [past, setPast] = useState<Stand[]>([]);
  const [future, setFuture] = useState<Stand[]>([]);
  const write = useMutation({
    mutationFn: (plan: Stand) =>
      plan
        ? call(`/api/pages/${pageId}/plan?conditions=${conditionsId}`, { method: 'PUT', body: plan })
        : call(`/api/pages/${pageId}/plan`, { method: 'DELETE' }),
    onSettled: () => client.invalidateQueries({ queryKey: ['page', pageId] }),
  });
  const change = (plan: Stand) => {
    setPast([...past, now]);
    setFuture([]);
    write.mutate(plan);
  };
  const [before, after] = [past.at(-1), future.at(-1)];
  return {
    save: change,
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
