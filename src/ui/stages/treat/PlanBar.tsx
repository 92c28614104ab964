'use client';
import Button from '@mui/material/Button';
import type { TreatView } from '@/usecases/treat-view';
import { JobButton, type StageProps } from '../../parts/StageFrame';
import { Ceiling, upTo } from './Ceiling';
import type { PlanHistory } from './usePlanHistory';

/** What may be done with the plan as a whole: prove it, limit its risk, go back. */
export function PlanBar({ data, history, ...props }: StageProps & { data: TreatView; history: PlanHistory }) {
  return (
    <div className="row">
      <JobButton kind="trial" label="Prove it" {...props} />
      <Button variant="outlined" disabled={!data.own || history.pending} onClick={history.reset}>
        Back to the recommended plan
      </Button>
      <span className="muted" style={{ flex: '1 1 160px' }}>
        {data.own
          ? 'What you decided stays when the page is measured again; all else is as recommended.'
          : 'The recommended plan.'}
      </span>
      <Ceiling
        plan={data.plan}
        onChoose={(risk) =>
          risk === 'medium' ? history.reset() : history.save(upTo(data.recommended, risk))
        }
      />
      <Button
        variant="outlined"
        aria-keyshortcuts="u"
        disabled={!history.undo || history.pending}
        onClick={() => history.undo?.()}
      >
        Undo
      </Button>
      <Button
        variant="outlined"
        aria-keyshortcuts="r"
        disabled={!history.redo || history.pending}
        onClick={() => history.redo?.()}
      >
        Redo
      </Button>
      {history.error ? <span role="alert">{history.error.message}</span> : null}
    </div>
  );
}
