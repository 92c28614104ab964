'use client';
import { useState } from 'react';
import type { TreatRow } from '@/usecases/treat-view';

/** The rules that are marked, to be changed together. */
export interface Marks {
  rows: TreatRow[];
  has(ruleId: string): boolean;
  toggle(ruleId: string): void;
  mark(ruleIds: readonly string[]): void;
  clear(): void;
}

export function useMarks(rows: readonly TreatRow[]): Marks {
  const [marked, setMarked] = useState<ReadonlySet<string>>(new Set());
  return {
    rows: rows.filter((row) => marked.has(row.rule.id)),
    has: (ruleId) => marked.has(ruleId),
    toggle(ruleId) {
      const next = new Set(marked);
      if (!next.delete(ruleId)) next.add(ruleId);
      setMarked(next);
    },
    mark: (ruleIds) => setMarked(new Set(ruleIds)),
    clear: () => setMarked(new Set()),
  };
}
