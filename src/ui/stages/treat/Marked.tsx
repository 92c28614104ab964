'use client';
import Button from '@mui/material/Button';
import type { PlanRule } from '@/core/treat/plan';
import type { TreatRow } from '@/usecases/treat-view';
import { chosenOffer } from './RuleDetail';

/** What giving a treatment changes in each of some rules that may have it. */
export function givenTo(rows: readonly TreatRow[], treatment: string): Map<string, Partial<PlanRule>> {
  return new Map(
    rows.flatMap((row) => {
      const offer = row.offers.find((one) => one.treatment === treatment && one.refused === null);
      return offer ? [[row.rule.id, { on: true, ...chosenOffer(row, offer) }] as const] : [];
    }),
  );
}

/** Acts on several rules at once: only on those that may have what is chosen. */
export function Marked({
  rows,
  onChange,
  onClear,
}: {
  rows: readonly TreatRow[];
  onChange: (changes: ReadonlyMap<string, Partial<PlanRule>>) => void;
  onClear: () => void;
}) {
  const labels = new Map(
    rows.flatMap((row) => row.offers.map(({ treatment, label }) => [treatment, label] as const)),
  );
  const switched = (on: boolean) => new Map(rows.map((row) => [row.rule.id, { on }]));
  return (
    <div className="row" role="group" aria-label="Marked rules">
      <b>{rows.length === 1 ? 'One rule is marked' : `${rows.length} rules are marked`}</b>
      <select
        className="small-field"
        style={{ width: 'auto' }}
        aria-label="Give them all"
        value=""
        onChange={(event) => onChange(givenTo(rows, event.target.value))}
      >
        <option value="">Give them all…</option>
        {[...labels].map(([treatment, label]) => {
          const may = givenTo(rows, treatment).size;
          return (
            <option key={treatment} value={treatment} disabled={may === 0}>
              {label} ({may === rows.length ? 'all may have it' : `${may} of ${rows.length} may have it`})
            </option>
          );
        })}
      </select>
      <Button variant="outlined" onClick={() => onChange(switched(true))}>
        Switch on
      </Button>
      <Button variant="outlined" onClick={() => onChange(switched(false))}>
        Switch off
      </Button>
      <Button variant="outlined" onClick={onClear}>
        Unmark
      </Button>
    </div>
  );
}
