'use client';
import { useState } from 'react';
import { HEADLINE_NAMES } from '@/core/measure/headline';
import { ms } from '@/core/path/words';
import { withChanges } from '@/core/treat/take-along';
import type { PlanRule } from '@/core/treat/plan';
import type { TreatView } from '@/usecases/treat-view';
import { useAssetSpokenOf, useStage } from '../api';
import { Caveats } from '../parts/Caveats';
import { JobButton, StageFrame, type StageProps } from '../parts/StageFrame';
import { LighterFiles } from './treat/LighterFiles';
import { Marked } from './treat/Marked';
import { MeasuredAnew } from './treat/MeasuredAnew';
import { OtherPlan } from './treat/OtherPlan';
import { OwnDecisions } from './treat/OwnDecisions';
import { Rehearsed } from './treat/Rehearsed';
import { rowAbout } from './treat/rule-names';
import { PlanBar } from './treat/PlanBar';
import { RuleDetail } from './treat/RuleDetail';
import { RuleTable } from './treat/RuleTable';
import { ALL_RULES, RuleFilter, shownRules } from './treat/RuleFilter';
import { useMarks } from './treat/useMarks';
import { WideDecisions } from './treat/WideDecisions';
import { usePlanHistory } from './treat/usePlanHistory';
import { useTreatKeys } from './treat/useTreatKeys';

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
  const history = usePlanHistory(props, data);
  const changeAll = (changes: ReadonlyMap<string, Partial<PlanRule>>) =>
    changes.size > 0 &&
    history.save({
      ...data.plan,
      // What is decided here is for this page.
      rules: withChanges(
        data.plan.rules,
        new Map([...changes].map(([id, values]) => [id, { scope: 'page', ...values }])),
      ),
    });
  const change = (id: string, values: Partial<PlanRule>) => changeAll(new Map([[id, values]]));
  const marks = useMarks(data.rows);
  const rows = shownRules(data.rows, shown);
  const chosen = data.rows.find((row) => row.rule.id === selected);
  useTreatKeys({ rows, selected, marks, chosen, history, onSelect: setSelected, onChange: changeAll });
  return (
    <div className="with-side">
      <main className="screen">
        <Sentence data={data} />
        <Caveats said={data.caveats} />
        {found?.words ? <p className="note">{found.words}</p> : null}
        <FoldNote state={data.foldState} {...props} />
        {data.missing ? <p className="note">{data.missing}</p> : null}
        <PlanBar data={data} history={history} {...props} />
        {data.rebound ? <MeasuredAnew rebound={data.rebound} onSeen={() => history.save(data.plan)} /> : null}
        {data.own ? (
          <OwnDecisions
            decisions={data.decisions}
            onOpen={setSelected}
            onDrop={({ ruleId, rule }) => change(ruleId, asRecommended(rule))}
          />
        ) : null}
        <WideDecisions decisions={data.wide} pageId={props.pageId} />
        <Rehearsed data={data} onPlan={history.save} {...props} />
        <div className="row" role="search">
          <RuleFilter rows={data.rows} shown={shown} onShow={setShown} />
          {rows.length < data.rows.length ? (
            <span className="muted">
              {rows.length} of {data.rows.length} shown
            </span>
          ) : null}
        </div>
        {marks.rows.length ? <Marked rows={marks.rows} onChange={changeAll} onClear={marks.clear} /> : null}
        <RuleTable
          rows={rows}
          selected={selected}
          opened={found?.row ?? null}
          marks={marks}
          onSelect={setSelected}
          onSwitch={(id, on) => change(id, { on })}
        />
        {data.lighter ? <LighterFiles lighter={data.lighter} {...props} /> : null}
        <OtherPlan onPlan={history.save} {...props} />
      </main>
      <aside className="side" aria-label="Evidence" tabIndex={0}>
        {chosen ? (
          <RuleDetail
            key={chosen.rule.id}
            row={chosen}
            decision={data.decisions.find((one) => one.ruleId === chosen.rule.id) ?? null}
            family={data.family}
            pageId={props.pageId}
            conditionsId={props.conditionsId}
            onChange={(values) => change(chosen.rule.id, { on: true, ...values })}
            onSay={(why) => change(chosen.rule.id, { why })}
            onDrop={(decision) => change(chosen.rule.id, asRecommended(decision.rule))}
          />
        ) : null}
      </aside>
    </div>
  );
}

function Sentence({ data }: { data: TreatView }) {
  const active = data.rows.filter((row) => row.rule.on && row.rule.treatment !== 'as-authored').length;
  return (
    <h1 className="sentence">
      {active} of {data.rows.length} {data.rows.length === 1 ? 'rule' : 'rules'}{' '}
      {active === 1 ? 'acts' : 'act'}
      {data.headlineMs === null ? (
        ''
      ) : (
        <>
          {' '}
          on a {HEADLINE_NAMES[data.headline]} of <span className="mark as-is">{ms(data.headlineMs)}</span>
        </>
      )}
      . What they gain, a trial says.{data.emptyPaint ? ` ${data.emptyPaint}` : ''}
    </h1>
  );
}

/** What makes a rule what is recommended for its asset: nothing, where nothing is. */
function asRecommended(rule: PlanRule | null): Partial<PlanRule> {
  if (!rule) return { on: false, why: '' };
  const { id: _id, ...recommended } = rule;
  return { together: [], ...recommended, why: '' };
}

/** What is to be known of the fold CSS that sheets are treated with. */
function FoldNote({ state, ...props }: StageProps & { state: TreatView['foldState'] }) {
  if (state === 'none')
    return (
      <div className="note row">
        <span style={{ flex: 1 }}>No fold CSS was made yet: stylesheets stay as authored until it is.</span>
        <JobButton kind="fold" label="Generate fold CSS" {...props} />
      </div>
    );
  return state === 'not proved' ? (
    <p className="note">The fold CSS is not proved: sheets stay as authored unless you decide otherwise.</p>
  ) : null;
}
