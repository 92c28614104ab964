'use client';
import Button from '@mui/material/Button';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import type { WideShown } from '@/usecases/treat-view';
import { call } from '../../api';

/** What was decided for the page's family and its whole site: what came of it here, what it spares, and the way back. */
export function WideDecisions({ decisions, pageId }: { decisions: readonly WideShown[]; pageId: number }) {
  if (decisions.length === 0) return null;
  return (
    <details className="note" open={decisions.length <= 3}>
      <summary>
        <b>
          {decisions.length === 1
            ? 'One decision is for more pages than this one.'
            : `${decisions.length} decisions are for more pages than this one.`}
        </b>
      </summary>
      {decisions.map((one) => (
        <WideDecision key={one.id} decision={one} />
      ))}
      <p style={{ margin: '6px 0 0' }}>
        <a className="box" href={`/api/pages/${pageId}/decisions`} download>
          Decisions as a file
        </a>
      </p>
    </details>
  );
}

function WideDecision({ decision: { id, sentence, here, spared } }: { decision: WideShown }) {
  const client = useQueryClient();
  const [paths, setPaths] = useState(spared.join(' '));
  const onSettled = () => client.invalidateQueries({ queryKey: ['page'] });
  const spare = useMutation({
    mutationFn: () =>
      call(`/api/decisions/${id}`, {
        method: 'PATCH',
        body: { spared: paths.split(/\s+/).filter(Boolean) },
      }),
    onSettled,
  });
  const drop = useMutation({
    mutationFn: () => call(`/api/decisions/${id}`, { method: 'DELETE' }),
    onSettled,
  });
  const error = spare.error ?? drop.error;
  return (
    <div style={{ margin: '6px 0 0' }}>
      <div className="row" style={{ margin: 0 }}>
        <span style={{ flex: 1, minWidth: 0, overflowWrap: 'anywhere' }}>
          {sentence} <span className="muted">{here}</span>
        </span>
        <label>
          Leave alone{' '}
          <input
            className="small-field"
            style={{ width: 150 }}
            aria-label={`Pages that are left alone: ${sentence}`}
            placeholder="/checkout*"
            value={paths}
            onChange={(event) => setPaths(event.target.value)}
            onBlur={() => paths.trim() !== spared.join(' ') && spare.mutate()}
            onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
          />
        </label>
        <Button variant="outlined" onClick={() => drop.mutate()} disabled={drop.isPending}>
          Take back
        </Button>
      </div>
      {error ? (
        <span role="alert" className="muted">
          {error.message}
        </span>
      ) : null}
    </div>
  );
}
