'use client';
import type { ProveView } from '@/usecases/prove-view';
import { useStage } from '../api';
import { DeedList } from '../parts/DeedList';
import { Caveats } from '../parts/Caveats';
import { OwnChecks } from '../parts/OwnChecks';
import { JobButton, StageFrame, type StageProps } from '../parts/StageFrame';
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
import { WhatIsLeft } from './prove/WhatIsLeft';
import { RuleGains } from './prove/RuleGains';

/** Prove: as is and treated, in pairs, on the same bytes. */
export function ProveStage(props: StageProps) {
  const query = useStage<ProveView>(props.pageId, 'prove', props.conditionsId);
  return (
    <StageFrame
      query={query}
      empty={
        <>
          <h1>Nothing is proved yet.</h1>
          <p>
            A trial loads the page as it is and as treated, in pairs whose order is drawn at random, from the
            same stored bytes: eight pairs, and up to twenty-four where eight do not settle it. Where that is
            earlier, eight pairs on the other kind of device follow: what phones are sent, laptops are sent
            too. It takes three to ten minutes, a heavy page a quarter of an hour.
          </p>
          <div className="row">
            <JobButton kind="trial" label="Run the trial" {...props} />
            <OpenByHand {...props} />
          </div>
          <NextPages {...props} />
        </>
      }
    >
      {(data) => <Proved data={data} {...props} />}
    </StageFrame>
  );
}

function Proved({ data, ...props }: StageProps & { data: ProveView }) {
  if (data.arms.length < 2) return null;
  return (
    <main className="screen">
      <h1 className="sentence">{data.result.sentence}</h1>
      {data.result.remarks.length ? (
        <p style={{ margin: '0 0 10px' }}>{data.result.remarks.join(' ')}</p>
      ) : null}
      {data.stale.length ? (
        <p className="note">This trial is out of date: {data.stale.join(', ')}. Run the trial again.</p>
      ) : null}
      <Caveats said={data.caveats} />
      <div
        style={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1fr) 424px', gap: 14, alignItems: 'start' }}
      >
        <div>
          <Mirror data={data} />
          <div className="row">
            <JobButton kind="trial" label="Run the trial again" {...props} />
            <OpenByHand {...props} />
          </div>
          <MoreArms {...props} />
          <MoreArmsTable data={data} />
          <WhatIsLeft data={data} />
          <RuleGains {...props} />
          <FamilyCheck {...props} />
          <NextPages {...props} />
        </div>
        <div style={{ display: 'grid', gap: 12 }}>
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
