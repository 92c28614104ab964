'use client';
import Button from '@mui/material/Button';
import type { Plan } from '@/core/treat/plan';
import { rehearsalRemarks, rehearsedSentence } from '@/core/words/rehearsal';
import type { TreatView } from '@/usecases/treat-view';
import { DeedList } from '../../parts/DeedList';
import { OwnChecks } from '../../parts/OwnChecks';
import { JobButton, type StageProps } from '../../parts/StageFrame';
import { nameOf } from './rule-names';

/** Whether the plan was rehearsed, what came of it, and what to do next. */
export function Rehearsed({
  data: { own, rehearsal, withoutFaults, rows },
  onPlan,
  ...props
}: StageProps & { data: TreatView; onPlan: (plan: Plan) => void }) {
  const name = (ruleId: string) => {
    const row = rows.find((one) => one.rule.id === ruleId);
    return row ? nameOf(row) : ruleId;
  };
  return (
    <div className="note">
      <div className="row">
        <span style={{ flex: 1 }}>
          <b>{rehearsedSentence(rehearsal, own)}</b>
          {rehearsal
            ? ''
            : ' Rehearsing loads the page with this plan beside the page as authored, in many orders of arrival, and holds each to the other (a minute or two).'}
        </span>
        {rehearsal ? null : <JobButton kind="rehearse" label="Rehearse" {...props} primary={false} />}
        {withoutFaults ? (
          <Button variant="outlined" onClick={() => onPlan(withoutFaults)}>
            Take out what breaks
          </Button>
        ) : null}
      </div>
      {rehearsal?.exceptions.map((one) => (
        <p key={one.ruleId} style={{ margin: '4px 0 0' }}>
          {name(one.ruleId)}, {one.label}: {one.evidence}
        </p>
      ))}
      {rehearsal?.later.map((one) => (
        <p key={one} style={{ margin: '4px 0 0' }}>
          {one}
        </p>
      ))}
      {rehearsal?.deeds.length ? (
        <details style={{ marginTop: 4 }}>
          <summary>What was done on it as a visitor would</summary>
          <DeedList deeds={rehearsal.deeds} />
        </details>
      ) : null}
      <OwnChecks {...props} />
      {rehearsal && rehearsalRemarks(rehearsal).length ? (
        <details style={{ marginTop: 4 }}>
          <summary>What was not held to anything</summary>
          {rehearsalRemarks(rehearsal).map((remark) => (
            <p key={remark} style={{ margin: '4px 0 0', overflowWrap: 'anywhere' }}>
              {remark}
            </p>
          ))}
        </details>
      ) : null}
    </div>
  );
}
