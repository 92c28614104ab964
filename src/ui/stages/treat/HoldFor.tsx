'use client';
import Button from '@mui/material/Button';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { effectOf } from '@/core/treat/plan';
import type { TreatRow } from '@/usecases/treat-view';
import { call } from '../../api';
import type { StageProps } from '../../parts/StageFrame';

/** Makes a decision about this page's asset one for its family, or for the whole site. */
export function HoldFor({
  row: { rule, known },
  family,
  pageId,
  conditionsId,
}: Pick<StageProps, 'pageId' | 'conditionsId'> & { row: TreatRow; family: string }) {
  const client = useQueryClient();
  const [scope, setScope] = useState<'family' | 'site'>(family ? 'family' : 'site');
  const [by, setBy] = useState(
    Math.max(
      0,
      known.findIndex((one) => one.knownBy === 'file'),
    ),
  );
  const chosen = known[by];
  const decide = useMutation({
    mutationFn: () =>
      call(`/api/pages/${pageId}/decisions?conditions=${conditionsId}`, {
        method: 'POST',
        body: {
          scope,
          kind: rule.kind,
          knownBy: chosen?.knownBy,
          what: chosen?.what,
          treatment: effectOf(rule),
          why: rule.why ?? '',
        },
      }),
    onSettled: () => client.invalidateQueries({ queryKey: ['page'] }),
  });
  if (!chosen) return null;
  return (
    <details style={{ margin: '0 0 8px' }}>
      <summary>Decide so for more pages</summary>
      <div style={{ display: 'grid', gap: 6, marginTop: 6 }}>
        <label>
          For{' '}
          <select
            className="small-field"
            style={{ width: 'auto', maxWidth: '100%' }}
            value={scope}
            onChange={(event) => setScope(event.target.value === 'family' ? 'family' : 'site')}
          >
            {family ? <option value="family">the family {family}</option> : null}
            <option value="site">the whole site</option>
          </select>
        </label>
        <label>
          What it is about
          <select
            className="small-field"
            style={{ display: 'block', width: '100%', marginTop: 3 }}
            value={by}
            onChange={(event) => setBy(Number(event.target.value))}
          >
            {known.map((one, index) => (
              <option key={`${one.knownBy} ${one.what}`} value={index}>
                {one.words}
              </option>
            ))}
          </select>
        </label>
        <div className="row" style={{ margin: 0 }}>
          <Button variant="outlined" onClick={() => decide.mutate()} disabled={decide.isPending}>
            Decide for {scope === 'family' ? 'the family' : 'the whole site'}
          </Button>
        </div>
        {decide.error ? (
          <p className="note" role="alert" style={{ margin: 0 }}>
            {decide.error.message}
          </p>
        ) : null}
      </div>
    </details>
  );
}
