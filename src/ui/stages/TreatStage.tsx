'use client';
import Button from '@mui/material/Button';
import Switch from '@mui/material/Switch';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef, useState, type ReactNode } from 'react';
import { HEADLINE_NAMES } from '@/core/measure/headline';
import { bytes, ms } from '@/core/path/words';
import { fileNameOf, hostOf } from '@/core/path/party';
import type { Match, Plan, PlanRule } from '@/core/treat/plan';
import type { Offer } from '@/core/treat/offers';
import { rehearsalRemarks, rehearsedSentence } from '@/core/words/rehearsal';
import type { RehearsedState, TreatRow, TreatView } from '@/usecases/views';
import { call, useAssetSpokenOf, useStage } from '../api';
import { KIND_MARK } from '../figures';
import { useKey } from '../keyboard';
import { Caveats } from '../parts/Caveats';
import { JobButton, StageFrame, type StageProps } from '../parts/StageFrame';

const REHEARSED: Record<RehearsedState, ReactNode> = {
  'not yet': <span className="muted">not yet</span>,
  holds: 'holds',
  breaks: <b>breaks the page</b>,
  weakened: 'weakened, holds',
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
  const client = useQueryClient();
  const about = useAssetSpokenOf();
  const found = about === null ? null : rowAbout(data.rows, about);
  const [selected, setSelected] = useState((found?.row ?? data.rows[0])?.rule.id ?? '');
  const opened = useRef<HTMLTableRowElement>(null);
  useEffect(() => opened.current?.scrollIntoView({ block: 'center' }), []);
  const refresh = () => client.invalidateQueries({ queryKey: ['page', props.pageId] });
  const save = useMutation({
    mutationFn: (plan: Plan) => call(`/api/pages/${props.pageId}/plan`, { method: 'PUT', body: plan }),
    onSettled: refresh,
  });
  const reset = useMutation({
    mutationFn: () => call(`/api/pages/${props.pageId}/plan`, { method: 'DELETE' }),
    onSettled: refresh,
  });
  const change = (id: string, values: Partial<PlanRule>) =>
    save.mutate({
      ...data.plan,
      rules: data.plan.rules.map((rule) => (rule.id === id ? { ...rule, ...values } : rule)),
    });
  const step = (by: number) => {
    const index = data.rows.findIndex((row) => row.rule.id === selected);
    const next = data.rows[Math.min(data.rows.length - 1, Math.max(0, index + by))];
    if (next) setSelected(next.rule.id);
  };
  useKey('j', () => step(1));
  useKey('k', () => step(-1));
  const active = data.rows.filter((row) => row.rule.on && row.rule.treatment !== 'as-authored').length;
  const chosen = data.rows.find((row) => row.rule.id === selected);
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
          <Button variant="outlined" disabled={!data.own || reset.isPending} onClick={() => reset.mutate()}>
            Back to the recommended plan
          </Button>
          <span className="muted">
            {data.own ? 'Your own plan: it stays when the page is measured again.' : 'The recommended plan.'}
          </span>
          {save.error ? <span role="alert">{save.error.message}</span> : null}
        </div>
        <Rehearsed data={data} onPlan={(plan) => save.mutate(plan)} {...props} />
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
              {data.rows.map((row) => (
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
                  <td>
                    {row.hold ? (
                      <>
                        <i className={`hold-mark ${row.hold}`} />
                        {row.hold}
                      </>
                    ) : (
                      <span className="muted">–</span>
                    )}
                  </td>
                  <td>
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
          <Detail row={chosen} onChange={(values) => change(chosen.rule.id, { on: true, ...values })} />
        ) : null}
      </aside>
    </div>
  );
}

/** Whether the plan was rehearsed, what came of it, and what to do next. */
function Rehearsed({
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

/** The rule that a way from the map leads to: the asset's own, that of what brings it, or that of its host. */
function rowAbout(rows: readonly TreatRow[], url: string): { row: TreatRow | null; words: string | null } {
  const name = fileNameOf(url);
  const matches = (row: TreatRow) =>
    [row.rule.match, ...(row.rule.together ?? [])].some((match) => 'url' in match && match.url === url);
  const own = rows.find(matches);
  if (own) return { row: own, words: null };
  // Of those that bring it the nearest one brings least.
  const [bringer] = rows
    .filter((row) => row.brings.includes(url))
    .sort((a, b) => a.brings.length - b.brings.length);
  if (bringer)
    return {
      row: bringer,
      words: `${name} is asked for because of ${nameOf(bringer)}, and is treated with it.`,
    };
  const host = rows.find(({ rule }) => 'host' in rule.match && hostOf(rule.match.host) === hostOf(url));
  if (host) return { row: host, words: `No rule is about ${name} itself; this one is about its host.` };
  return { row: null, words: `No rule of this plan is about ${name}.` };
}

function nameOf(row: TreatRow): string {
  if (!/^https?:/.test(row.label)) return row.label;
  const url = new URL(row.label);
  return row.rule.kind === 'host' ? url.host : (url.pathname.split('/').filter(Boolean).at(-1) ?? url.host);
}

/** What a choice changes in a rule: what has to move with it goes along. */
function chosenOffer({ rule }: TreatRow, { treatment, together }: Offer): Partial<PlanRule> {
  const before = (rule.together ?? []).filter((one) => !together.some((other) => isSame(one, other)));
  return { treatment, together: [...before, ...together] };
}

const isSame = (a: Match, b: Match) => JSON.stringify(a) === JSON.stringify(b);

function Detail({ row, onChange }: { row: TreatRow; onChange: (values: Partial<PlanRule>) => void }) {
  const { rule, offers } = row;
  return (
    <>
      <h2>{nameOf(row)}</h2>
      <p style={{ margin: '0 0 8px' }}>{rule.reason}</p>
      {row.rehearsed === 'breaks' && row.fault ? (
        <p className="note" style={{ margin: '0 0 8px' }}>
          {row.fault}
        </p>
      ) : null}
      {row.evidence ? (
        <p className="muted" style={{ margin: '0 0 8px' }}>
          {row.evidence}
        </p>
      ) : null}
      {row.brings.length ? (
        <p className="muted" style={{ margin: '0 0 8px' }}>
          Because of it the page asks for {row.brings.map(fileNameOf).join(', ')}.
        </p>
      ) : null}
      <h2>What it may be</h2>
      <div role="radiogroup" aria-label="Treatment">
        {offers.map((offer) => (
          <label key={offer.treatment} className={`choice ${offer.refused ? 'refused' : ''}`}>
            <input
              type="radio"
              name={`treatment-${rule.id}`}
              checked={rule.treatment === offer.treatment}
              disabled={offer.refused !== null}
              onChange={() => onChange(chosenOffer(row, offer))}
            />
            <span>
              <b>{offer.label}</b> {offer.refused ? <>refused: {offer.refused}</> : offer.note}
            </span>
          </label>
        ))}
      </div>
      {rule.together?.length ? (
        <>
          <h2>Goes with it</h2>
          {rule.together.map((match, index) => (
            <p className="snippet" key={index}>
              {'inline' in match ? `${match.inline}…` : 'url' in match ? match.url : match.host}
            </p>
          ))}
        </>
      ) : null}
      {row.changes.length ? <h2>In the page</h2> : null}
      {row.changes.map((change, index) => (
        <div className="change" key={index}>
          <span className="muted">{change.where}</span>
          {change.before ? <pre className="before">− {change.before.slice(0, 400)}</pre> : null}
          <pre className="after">+ {change.after.slice(0, 700) || '(left out)'}</pre>
        </div>
      ))}
    </>
  );
}
