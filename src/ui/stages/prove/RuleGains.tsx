'use client';
import { HEADLINE_NAMES } from '@/core/measure/headline';
import { fileNameOf } from '@/core/path/names';
import { capital } from '@/core/path/words';
import type { GainRow, RuleGainsView } from '@/usecases/rule-gains-view';
import { useStage } from '../../api';
import { signed } from '../../figures';
import { Evidence } from '../../parts/Evidence';
import { JobButton, type StageProps } from '../../parts/StageFrame';
import { GainBar, intervalWords } from './GainBar';

/** What each rule gains, put in one after the other; what rehearsing excepted stands with its evidence. */
export function RuleGains(props: StageProps) {
  const { data, error } = useStage<RuleGainsView>(props.pageId, 'rule-gains', props.conditionsId);
  return (
    <section aria-label="Rule by rule">
      <h2 style={{ fontSize: 15 }}>Rule by rule</h2>
      {error ? (
        <p className="note" role="alert">
          {error.message}
        </p>
      ) : null}
      {data ? (
        <>
          <p style={{ margin: '0 0 6px' }}>
            {data.sentence}
            {data.tooBusy ? ' The machine was busy with other things meanwhile.' : ''}
          </p>
          {data.warning ? <p className="note">{data.warning}</p> : null}
          {data.stale.length ? (
            <p className="note">These gains are out of date: {data.stale.join(', ')}. Measure it again.</p>
          ) : null}
          <GainTable data={data} />
        </>
      ) : (
        <p style={{ margin: '0 0 6px', maxWidth: '70ch' }}>
          The rules that the paint waits for are put in one after the other, the others together at the end,
          and each step is compared with the one before it, six times. It takes one to two minutes a step;
          broken off, it goes on from the rounds that were taken.
        </p>
      )}
      <div className="row">
        <JobButton
          kind="rule-gains"
          label={data ? 'Measure rule by rule again' : 'Measure rule by rule'}
          {...props}
          primary={false}
        />
      </div>
    </section>
  );
}

function GainTable({ data }: { data: RuleGainsView }) {
  const most = Math.max(1, data.asIsMs ?? 0, ...data.steps.map((one) => one.paintMs ?? 0));
  return (
    <div className="sheet" style={{ marginBottom: 10 }}>
      <table className="plain">
        <thead>
          <tr>
            <th className="number">Step</th>
            <th>Put in</th>
            <th style={{ width: '30%' }}>{capital(HEADLINE_NAMES[data.headline])} after it</th>
            <th className="number">Gains, ms</th>
            <th className="number">95 % interval</th>
            <th>Verdict</th>
          </tr>
        </thead>
        <tbody>
          <tr>
            <td className="number muted">0</td>
            <td className="muted">as is</td>
            <td>
              <GainBar value={data.asIsMs} most={most} kind="as-is" />
            </td>
            <td colSpan={3} />
          </tr>
          {data.steps.map((step, index) => (
            <StepLine key={index} number={index + 1} step={step} most={most} />
          ))}
          {data.excepted.map((one) => (
            <tr key={one.ruleId}>
              <td className="number muted">–</td>
              <td colSpan={4}>
                <b>{nameOf(one.label)}</b> {one.treatment}
                <div className="muted">{one.evidence}</div>
                {one.pictures ? <Evidence pictures={one.pictures} /> : null}
              </td>
              <td>excepted: {one.becomes}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

function StepLine({ number, step, most }: { number: number; step: GainRow; most: number }) {
  const { rules } = step;
  const [first] = rules;
  return (
    <tr>
      <td className="number">{number}</td>
      <td>
        {rules.length > 2 ? (
          <details>
            <summary>
              {rules.length} rules{number > 1 ? ' more' : ''}
            </summary>
            {rules.map((rule) => (
              <div key={rule.ruleId}>
                <b>{nameOf(rule.label)}</b> {rule.treatment}
              </div>
            ))}
          </details>
        ) : (
          rules.map((rule) => (
            <div key={rule.ruleId}>
              <b>{nameOf(rule.label)}</b>{' '}
              {rule === first || rule.treatment !== first!.treatment ? rule.treatment : 'too'}
            </div>
          ))
        )}
      </td>
      <td>
        <GainBar value={step.paintMs} most={most} kind="treated" />
      </td>
      <Gained step={step} />
    </tr>
  );
}

/** A gain is a paint that comes earlier: the difference turned round. */
function Gained({ step: { gained, worse } }: { step: GainRow }) {
  return (
    <>
      <td className="number">{signed({ unit: 'ms' }, -gained.differenceMs)}</td>
      <td className="number" style={{ whiteSpace: 'nowrap' }}>
        {intervalWords(gained, true) ?? '–'}
      </td>
      <td>
        {gained.verdict}
        {worse.length ? <div>but {worse.join(', ')}</div> : null}
      </td>
    </>
  );
}

function nameOf(label: string): string {
  return /^https?:/.test(label) ? fileNameOf(label) : label.slice(0, 60);
}
