'use client';
import type { PlanRule } from '@/core/treat/plan';
import type { TreatRow } from '@/usecases/treat-view';
import { useKeys } from '../../keyboard';
import { givenTo } from './Marked';
import { TREATMENT_KEYS } from './RuleDetail';
import type { Marks } from './useMarks';
import type { PlanHistory } from './usePlanHistory';

/** The keys of Treat: through the rows, treatments by their letters, marking, undo and redo. */
export function useTreatKeys({
  rows,
  selected,
  marks,
  chosen,
  history,
  onSelect,
  onChange,
}: {
  rows: readonly TreatRow[];
  selected: string;
  marks: Marks;
  chosen: TreatRow | undefined;
  history: PlanHistory;
  onSelect: (ruleId: string) => void;
  onChange: (changes: ReadonlyMap<string, Partial<PlanRule>>) => void;
}): void {
  const step = (by: number) => {
    const index = rows.findIndex((row) => row.rule.id === selected);
    const next = rows[Math.min(rows.length - 1, Math.max(0, index + by))];
    if (next) onSelect(next.rule.id);
  };
  // What is marked is changed; where nothing is, what is selected.
  const meant = marks.rows.length ? marks.rows : chosen ? [chosen] : [];
  useKeys({
    g: () => chosen && marks.toggle(chosen.rule.id),
    j: () => step(1),
    k: () => step(-1),
    u: () => history.undo?.(),
    r: () => history.redo?.(),
    ...Object.fromEntries(
      meant
        .flatMap((row) => row.offers)
        .flatMap(({ treatment, refused }) => {
          const key = TREATMENT_KEYS[treatment];
          return key === undefined || refused !== null
            ? []
            : [[key, () => onChange(givenTo(meant, treatment))]];
        }),
    ),
  });
}
