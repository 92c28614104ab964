'use client';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import { useState } from 'react';
import type { VisitKind } from '@/core/measure/visit';
import { HEADLINE_NAMES } from '@/core/measure/headline';
import { capital, count } from '@/core/path/words';
import { armName } from '@/core/words/arms';
import { comparedWith, leftOutWords } from '@/core/words/more-arms';
import type { ProveView } from '@/usecases/prove-view';
import { signed } from '../../figures';
import type { StageProps } from '../../parts/StageFrame';
import { readPlan } from '../treat/OtherPlan';
import { TrialStart } from './TrialStart';

/** Each arm's own sign, beside its name: told apart without colour. */
const SIGNS = ['A', 'B', 'C', 'D'];

/** What further arms came to: each with its paint, and how it stands to every arm before it. */
export function MoreArmsTable({ data }: { data: ProveView }) {
  const more = data.moreArms;
  if (!more) return null;
  const arms = [...data.arms, ...more.beside];
  const against = arms.slice(0, -1);
  return (
    <section>
      <h2 style={{ fontSize: 15 }}>All arms compared</h2>
      <div className="sheet">
        <table className="plain" aria-label="All arms compared">
          <thead>
            <tr>
              <th>{capital(HEADLINE_NAMES[more.headline])}, ms</th>
              <th className="number">Median</th>
              {against.map(({ id }, column) => (
                <th key={id} className="number">
                  less {SIGNS[column]}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {arms.map(({ id, spreads }, row) => (
              <tr key={id}>
                <td>
                  <b>{SIGNS[row]}</b> {armName(id)}
                </td>
                <td className="number">{count(spreads[more.headline].median ?? NaN)}</td>
                {against.map((other, column) => (
                  <td key={other.id} className="number">
                    {column < row ? <Compared data={data} row={id} column={other.id} /> : null}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {more.beside.map(({ id, leftOut }) =>
        leftOut.length ? (
          <p key={id} className="muted">
            {capital(armName(id))}: {leftOutWords(leftOut)}
          </p>
        ) : null,
      )}
    </section>
  );
}

function Compared({ data, row, column }: { data: ProveView; row: string; column: string }) {
  const isJudged = [row, column].every((id) => data.arms.some((arm) => arm.id === id));
  const difference = isJudged ? data.result.paint : comparedWith(data.moreArms!, row, column);
  if (!difference || difference.verdict === 'too few runs to say')
    return <span className="muted">too few</span>;
  return (
    <>
      {signed({ unit: 'ms' }, difference.differenceMs)}
      <div className="muted">
        {difference.verdict === 'no clear difference' ? 'not clear' : difference.verdict}
      </div>
    </>
  );
}

/** Runs a trial in which more is loaded than the page as is and as treated. */
export function MoreArms({ visit, ...props }: StageProps & { visit: VisitKind }) {
  const [idealPage, setIdealPage] = useState(true);
  const [file, setFile] = useState<File | null>(null);
  return (
    <details className="note">
      <summary>Load more than two arms</summary>
      <p style={{ margin: '6px 0' }}>
        Beside the page as is and as treated, in the same rounds. Each two are compared; that takes at least
        twelve rounds.
      </p>
      <FormControlLabel
        control={<Checkbox checked={idealPage} onChange={(_event, on) => setIdealPage(on)} />}
        label="The ideal page: its words with the fold CSS inline, and nothing that it asks for"
      />
      <label style={{ display: 'block', margin: '0 0 8px' }}>
        The page with another plan, from a plan file{' '}
        <input
          type="file"
          accept=".json,application/json"
          onChange={({ target }) => setFile(target.files?.[0] ?? null)}
        />
      </label>
      <TrialStart
        label="Run the trial with these"
        primary={false}
        disabled={!idealPage && !file}
        wish={async () => ({ visit, idealPage, otherPlan: file && readPlan(await file.text(), file.name) })}
        {...props}
      />
    </details>
  );
}
