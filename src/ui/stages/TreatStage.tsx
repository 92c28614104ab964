'use client';
import Button from '@mui/material/Button';
import Switch from '@mui/material/Switch';
import { useEffect, useRef, useState, type ReactNode } from 'react';
import { HEADLINE_NAMES } from '@/core/measure/headline';
import { bytes, ms } from '@/core/path/words';
import { hostOf } from '@/core/path/party';
import type { PlanRule } from '@/core/treat/plan';
import type { RehearsedState, TreatView } from '@/usecases/treat-view';
import { useAssetSpokenOf, useStage } from '../api';
import { KIND_MARK } from '../figures';
import { useKeys } from '../keyboard';
import { Caveats } from '../parts/Caveats';
import { JobButton, StageFrame, type StageProps } from '../parts/StageFrame';
import { MeasuredAnew } from './treat/MeasuredAnew';
import { Rehearsed } from './treat/Rehearsed';
import { nameOf, rowAbout } from './treat/rule-names';
import { chosenOffer, RuleDetail, TREATMENT_KEYS } from './treat/RuleDetail';
import { ALL_RULES, RuleFilter, shownRules } from './treat/RuleFilter';
import { usePlanHistory } from './treat/usePlanHistory';

const REHEARSED: Record<RehearsedState, ReactNode> = {
  'not yet': <span className="muted">not yet</span>,
  holds: 'holds',
  breaks: <b>breaks the page</b>,
  weakened: 'weakened',
  excepted: 'excepted',
  'does nothing': <span className="muted">–</span>,
};

/** Treat: what is done to each asset, with its reason, its risk and its switch. */
export function TreatStage(props: StageProps) {
  const query = useStage<TreatView>(props.pageId, 'treat', props.conditionsId);
  return (
    <StageFrame
      query={query}
      empty={
        <>
          <h1>There is nothing to treat yet.</h1>
          <p>Measure the page first: the plan is made from its capture.</p>
          <JobButton kind="measure" label="Measure" {...props} />
        </>
      }
    >
      {(data) => <Treated data={data} {...props} />}
    </StageFrame>
  );
}

function Treated({ data, ...props }: StageProps & { data: TreatView }) {
  const about = useAssetSpokenOf();
  const found = about === null ? null : rowAbout(data.rows, about);
  const [selected, setSelected] = useState((found?.row ?? data.rows[0])?.rule.id ?? '');
  const [shown, setShown] = useState(ALL_RULES);
  const opened = useRef<HTMLTableRowElement>(null);
  useEffect(() => opened.current?.scrollIntoView({ block: 'center' }), []);
  const history = usePlanHistory(props.pageId, data.own ? data.plan : null);
  const change = (id: string, values: Partial<PlanRule>) =>
    history.save({
      ...data.plan,
      rules: data.plan.rules.map((rule) => (rule.id === id ? { ...rule, ...values } : rule)),
    });
  const rows = shownRules(data.rows, shown);
  const step = (by: number) => {
    const index = rows.findIndex((row) => row.rule.id === selected);
    const next = rows[Math.min(rows.length - 1, Math.max(0, index + by))];
    if (next) setSelected(next.rule.id);
  };
  const active = data.rows.filter((row) => row.rule.on && row.rule.treatment !== 'as-authored').length;
  const chosen = data.rows.find((row) => row.rule.id === selected);
  useKeys({
    j: () => step(1),
    k: () => step(-1),
    u: () => history.undo?.(),
    r: () => history.redo?.(),
    ...Object.fromEntries(
      (chosen?.offers ?? []).flatMap((offer) => {
        const key = TREATMENT_KEYS[offer.treatment];
        if (key === undefined || offer.refused !== null) return [];
        return [[key, () => change(chosen!.rule.id, { on: true, ...chosenOffer(chosen!, offer) })]];
      }),
    ),
  });
  return (
    <div className="with-side">
      <main className="screen">
        <h1 className="sentence">
          {active} of {data.rows.length} rules act
          {data.headlineMs === null ? (
            ''
          ) : (
            <>
              {' '}
              on a {HEADLINE_NAMES[data.headline]} of{' '}
              <span className="mark as-is">{ms(data.headlineMs)}</span>
            </>
          )}
          . What they gain, a trial says.{data.emptyPaint ? ` ${data.emptyPaint}` : ''}
        </h1>
        <Caveats said={data.caveats} />
        {found?.words ? <p className="note">{found.words}</p> : null}
        {data.foldState === 'none' ? (
          <div className="note row">
            <span style={{ flex: 1 }}>
              No fold CSS was made yet: stylesheets stay as authored until it is.
            </span>
            <JobButton kind="fold" label="Generate fold CSS" {...props} />
          </div>
        ) : null}
        {data.foldState === 'not proved' ? (
          <p className="note">
            The fold CSS is not proved: sheets stay as authored unless you decide otherwise.
          </p>
        ) : null}
        <div className="row">
          <JobButton kind="trial" label="Prove it" {...props} />
          <Button variant="outlined" disabled={!data.own || history.pending} onClick={history.reset}>
            Back to the recommended plan
          </Button>
          <span className="muted">
            {data.own ? 'Your own plan: it stays when the page is measured again.' : 'The recommended plan.'}
          </span>
          <span style={{ flex: 1 }} />
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
        {data.rebound ? <MeasuredAnew rebound={data.rebound} onSeen={() => history.save(data.plan)} /> : null}
        <Rehearsed data={data} onPlan={history.save} {...props} />
        <div className="row" role="search">
          <RuleFilter shown={shown} onShow={setShown} />
          {rows.length < data.rows.length ? (
            <span className="muted">
              {rows.length} of {data.rows.length} shown
            </span>
          ) : null}
        </div>
        <div className="sheet">
          <table className="plain">
            <thead>
              <tr>
                <th>On</th>
                <th>Asset</th>
                <th className="number">Wire</th>
                <th>Does</th>
                <th>As authored → treatment</th>
                <th>Risk</th>
                <th>Rehearsed</th>
              </tr>
            </thead>
            <tbody>
              {rows.map((row) => (
                <tr
                  key={row.rule.id}
                  ref={row === found?.row ? opened : undefined}
                  className="pick"
                  aria-selected={row.rule.id === selected}
                  onClick={() => setSelected(row.rule.id)}
                >
                  <td>
                    <Switch
                      checked={row.rule.on && row.rule.treatment !== 'as-authored'}
                      disabled={row.rule.treatment === 'as-authored'}
                      onChange={(event) => change(row.rule.id, { on: event.target.checked })}
                      slotProps={{
                        input: { 'aria-label': `${nameOf(row)}: ${row.treatmentLabel}` },
                      }}
                    />
                  </td>
                  <td>
                    <button
                      type="button"
                      onClick={() => setSelected(row.rule.id)}
                      style={{ all: 'unset', cursor: 'pointer' }}
                    >
                      <span className="kind">
                        {row.rule.kind === 'script'
                          ? 'JS'
                          : row.rule.kind === 'stylesheet'
                            ? 'CSS'
                            : KIND_MARK[row.rule.kind]}
                      </span>
                      <b style={{ fontWeight: 600 }}>{nameOf(row)}</b>{' '}
                      <span className="muted">{hostOf(row.label).split('.')[0]}</span>
                    </button>
                    {row.notApplied ? <div>Not applied. {row.notApplied}</div> : null}
                  </td>
                  <td className="number">{row.wireBytes === null ? '–' : bytes(row.wireBytes)}</td>
                  <td style={{ whiteSpace: 'nowrap' }}>
                    {row.hold ? (
                      <>
                        <i className={`hold-mark ${row.hold}`} />
                        {row.hold}
                      </>
                    ) : (
                      <span className="muted">–</span>
                    )}
                  </td>
                  <td style={{ whiteSpace: 'nowrap' }}>
                    <span className="muted">{row.start} → </span>
                    <b>{row.rule.on ? row.treatmentLabel : 'as authored'}</b>
                    {row.rule.on || row.rule.treatment === 'as-authored' ? (
                      ''
                    ) : (
                      <span className="muted"> (off: {row.treatmentLabel})</span>
                    )}
                  </td>
                  <td>{row.rule.risk}</td>
                  <td>{REHEARSED[row.rehearsed]}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      </main>
      <aside className="side" aria-label="Evidence">
        {chosen ? (
          <RuleDetail row={chosen} onChange={(values) => change(chosen.rule.id, { on: true, ...values })} />
        ) : null}
      </aside>
    </div>
  );
}
