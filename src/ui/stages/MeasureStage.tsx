'use client';
import Button from '@mui/material/Button';
import { lazy, useState } from 'react';
import { describeConditions } from '@/core/measure/conditions';
import { HEADLINE_NAMES } from '@/core/measure/headline';
import { capital, ms } from '@/core/path/words';
import type { MeasureView } from '@/usecases/measure-view';
import { useStage } from '../api';
import { signed, when } from '../figures';
import { Caveats } from '../parts/Caveats';
import { JobButton, StageFrame, type StageProps } from '../parts/StageFrame';
import { Circumstances } from './measure/Circumstances';
import { History } from './measure/History';
import { KeptMeasurements } from './measure/KeptMeasurements';
import { MetricsTable } from './measure/MetricsTable';
import { Later } from '../parts/Later';

const VisitorsDialog = lazy(() =>
  import('./measure/VisitorsDialog').then((one) => ({ default: one.VisitorsDialog })),
);

const SettingsDialog = lazy(() =>
  import('./measure/SettingsDialog').then((one) => ({ default: one.SettingsDialog })),
);

/** Measure: the figures of the page under the conditions, and how its picture came to be. */
export function MeasureStage(props: StageProps) {
  const query = useStage<MeasureView>(props.pageId, 'measure', props.conditionsId);
  return (
    <StageFrame
      query={query}
      empty={
        <>
          <h1>{props.pageName} has not been measured under these conditions.</h1>
          <p>
            The page is captured once as it is now, then replayed from the stored bytes. It takes about a
            minute, and you can go on working.
          </p>
          <div className="row">
            <JobButton kind="measure" label="Measure" {...props} />
            <HowButton pageId={props.pageId} />
          </div>
        </>
      }
    >
      {(data) => <Measured data={data} {...props} />}
    </StageFrame>
  );
}

function HowButton({ pageId }: { pageId: number }) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button variant="outlined" onClick={() => setOpen(true)}>
        How it is measured
      </Button>
      {open ? (
        <Later>
          <SettingsDialog pageId={pageId} onClose={() => setOpen(false)} />
        </Later>
      ) : null}
    </>
  );
}

function Measured({ data, ...props }: StageProps & { data: MeasureView }) {
  const { spreads } = data.measurement;
  const [asking, setAsking] = useState(false);
  const paint = spreads[data.headline];
  const index = spreads.speedIndexMs.median;
  const before = data.previous?.spreads[data.headline].median ?? null;
  const moved =
    data.previous?.apart === null && paint.median !== null && before !== null ? paint.median - before : null;
  return (
    <div className="with-side measure">
      <main className="screen">
        <h1 className="sentence">
          {paint.median === null ? (
            'The page never painted.'
          ) : (
            <>
              {capital(HEADLINE_NAMES[data.headline])} after{' '}
              <span className="mark as-is">{ms(paint.median)}</span>
              {index === null ? '; no Speed Index, as the page never rested.' : `, Speed Index ${ms(index)}.`}
              {data.emptyPaint ? ` ${data.emptyPaint}` : ''}
              {moved !== null ? ` Since the measurement before: ${signed({ unit: 'ms' }, moved)} ms.` : ''}
            </>
          )}
        </h1>
        <Caveats
          said={
            data.previous?.apart
              ? [...data.caveats, `Of the measurement before: ${data.previous.apart}`]
              : data.caveats
          }
        />
        <div className="row">
          <JobButton kind="measure" label="Measure again" {...props} />
          <HowButton pageId={props.pageId} />
          <Button
            variant="outlined"
            href={`/api/pages/${props.pageId}/har?conditions=${props.conditionsId}`}
            download
          >
            Download as HAR
          </Button>
          <Button variant="outlined" onClick={() => setAsking(true)}>
            Visitors’ figures
          </Button>
          <span className="muted">
            {data.runs.length} runs on {when(data.measurement.takenAt)}, replayed from the stored bytes
          </span>
        </div>
        {data.field ? (
          <p style={{ margin: '0 0 6px' }}>
            {data.field.resembles ? null : <b>Unlike your visitors. </b>}
            {data.field.sentence}
          </p>
        ) : null}
        <MetricsTable data={data} />
        <h2 style={{ fontSize: 14, margin: '18px 0 6px' }}>Over time</h2>
        <History data={data} />
        {data.history.length > 1 ? (
          <p className="muted">
            {capital(HEADLINE_NAMES[data.headline])} solid, Speed Index dashed, largest contentful paint
            dotted; {describeConditions(data.measurement.conditions)}
          </p>
        ) : null}
        <KeptMeasurements pageId={props.pageId} kept={data.kept} headline={data.headline} />
      </main>
      <Circumstances data={data} />
      {asking ? (
        <Later>
          <VisitorsDialog
            pageId={props.pageId}
            known={data.field !== null}
            onClose={() => setAsking(false)}
          />
        </Later>
      ) : null}
    </div>
  );
}
