'use client';
import type { PageView } from '@/usecases/page-view';
import type { ProveView } from '@/usecases/prove-view';
import { useAnswer, useVisit } from '../api';
import { pageQuestion, proveQuestion } from '../questions';
import { DeedList } from '../parts/DeedList';
import { Caveats } from '../parts/Caveats';
import { OwnChecks } from '../parts/OwnChecks';
import { JobButton, StageFrame, type StageProps } from '../parts/StageFrame';
import { AtFault } from './prove/AtFault';
import { CheckTable } from './prove/CheckTable';
import { FinalPictures } from './prove/FinalPictures';
import { HowMeasured } from './prove/HowMeasured';
import { FamilyCheck } from './prove/FamilyCheck';
import { IntervalTable } from './prove/IntervalTable';
import { MetricTable } from './prove/MetricTable';
import { MoreArms, MoreArmsTable } from './prove/MoreArms';
import { Mirror } from './prove/Mirror';
import { NextPages } from './prove/NextPages';
import { OpenByHand } from './prove/OpenByHand';
import { OtherDeviceTable } from './prove/OtherDeviceTable';
import { PairTable } from './prove/PairTable';
import { Taps } from './prove/Taps';
import { TrialStart } from './prove/TrialStart';
import { VisitChoice } from './prove/VisitChoice';
import { WhatIsLeft } from './prove/WhatIsLeft';
import { RuleGains } from './prove/RuleGains';

/** Prove: as is and treated, in pairs, on the same bytes. */
export function ProveStage(props: StageProps) {
  const visit = useVisit();
  const query = useAnswer<ProveView | null>(proveQuestion(props.pageId, props.conditionsId, visit));
  return (
    <StageFrame query={query} empty={<NotTried {...props} />}>
      {(data) => <Proved data={data} {...props} />}
    </StageFrame>
  );
}

function NotTried(props: StageProps) {
  const visit = useVisit();
  const { data } = useAnswer<PageView>(pageQuestion(props.pageId, props.conditionsId));
  if (!data) return <p className="muted">Reading…</p>;
  if (data.stages.find(({ key }) => key === 'measure')?.state === 'nothing yet')
    return (
      <>
        <h1>There is nothing to prove yet.</h1>
        <p>Measure the page first: a trial loads it from its capture, as it is and as treated.</p>
        <JobButton kind="measure" label="Measure" {...props} />
      </>
    );
  return visit === 'return' ? <NoReturnVisits {...props} /> : <NothingProved {...props} />;
}

function NothingProved(props: StageProps) {
  return (
    <>
      <h1>Nothing is proved yet.</h1>
      <p>
        A trial loads the page as it is and as treated, in pairs whose order is drawn at random, from the same
        stored bytes: eight pairs, and up to twenty-four where eight do not settle it. Where that is earlier,
        eight pairs on the other kind of device follow: what phones are sent, laptops are sent too. It takes
        three to ten minutes, a heavy page a quarter of an hour; where the page breaks, looking for the rule
        that does it takes five more at most.
      </p>
      <div className="row">
        <JobButton kind="trial" label="Run the trial" {...props} />
        <OpenByHand {...props} />
      </div>
      <NextPages {...props} />
    </>
  );
}

function NoReturnVisits(props: StageProps) {
  return (
    <>
      <VisitChoice {...props} />
      <h1>No trial has timed return visits yet.</h1>
      <p>
        Here each load is of a page that was visited just before: files come out of the browser’s cache as far
        as their hosts let them be kept, and what the plan puts into the page itself is sent again. It shows
        what inlining costs those who come back. A plan is proved by its first visits; this stands beside
        them. It takes twice as long as a trial of first visits.
      </p>
      <div className="row">
        <TrialStart
          label="Run the trial of return visits"
          primary
          wish={() => ({ visit: 'return' })}
          {...props}
        />
      </div>
    </>
  );
}

function Proved({ data, ...props }: StageProps & { data: ProveView }) {
  if (data.arms.length < 2) return null;
  const isFirst = data.visit === 'first';
  // Whether anything broke is the last of them, and comes first here: tables say most of the others.
  const others = data.result.remarks.slice(0, -1);
  const whetherItHolds = data.result.remarks.at(-1);
  return (
    <main className="screen">
      <VisitChoice {...props} />
      <h1 className="sentence">{data.result.sentence}</h1>
      {whetherItHolds ? <p style={{ margin: '0 0 10px' }}>{whetherItHolds}</p> : null}
      {data.stale.length ? (
        <p className="note">This trial is out of date: {data.stale.join(', ')}. Run the trial again.</p>
      ) : null}
      <AtFault key={data.id} data={data} {...props} />
      <Caveats said={data.caveats} />
      <div className="prove-halves">
        <div>
          <Mirror data={data} />
          <div className="row">
            {isFirst ? (
              <JobButton kind="trial" label="Run the trial again" {...props} />
            ) : (
              <TrialStart
                label="Run the trial of return visits again"
                primary
                wish={() => ({ visit: 'return' })}
                {...props}
              />
            )}
            <OpenByHand {...props} />
          </div>
          {others.length ? (
            <p style={{ maxWidth: '90ch' }}>
              <b>What else it shows.</b> {others.join(' ')}
            </p>
          ) : null}
          <MoreArms visit={data.visit} {...props} />
          <MoreArmsTable data={data} />
          {isFirst ? (
            <>
              <WhatIsLeft data={data} />
              <RuleGains {...props} />
              <FamilyCheck {...props} />
              <NextPages {...props} />
            </>
          ) : null}
        </div>
        <div>
          <MetricTable data={data} />
          <IntervalTable data={data} />
          <OtherDeviceTable data={data} />
          <CheckTable data={data} />
          <Taps data={data} />
        </div>
      </div>
      <HowMeasured data={data} />
      <h2 style={{ fontSize: 15 }}>Each pair</h2>
      <PairTable data={data} />
      {data.checks.rehearsal?.deeds.length ? (
        <section id="deeds">
          <h2 style={{ fontSize: 15 }}>Done on it as a visitor would</h2>
          <div className="sheet" style={{ padding: '4px 12px' }}>
            <DeedList deeds={data.checks.rehearsal.deeds} />
          </div>
          <OwnChecks {...props} />
        </section>
      ) : null}
      <h2 style={{ fontSize: 15 }}>Final pictures</h2>
      <FinalPictures data={data} />
    </main>
  );
}
