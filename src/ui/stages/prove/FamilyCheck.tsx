'use client';
import Link from 'next/link';
import { fileNameOf } from '@/core/path/names';
import type { FamilyCheckView } from '@/usecases/family-check';
import { useStage } from '../../api';
import { JobButton, type StageProps } from '../../parts/StageFrame';

/** The plan on the other pages of the family: what is put into a template is put into those as well. */
export function FamilyCheck(props: StageProps) {
  const { data, error } = useStage<FamilyCheckView>(props.pageId, 'family-check', props.conditionsId);
  if (error)
    return (
      <p className="note" role="alert">
        {error.message}
      </p>
    );
  if (!data) return null;
  const { family, measured, tried } = data;
  return (
    <section aria-label="Other pages of the family">
      <h2 style={{ fontSize: 15 }}>Other pages of the family</h2>
      {tried ? (
        <>
          <p style={{ margin: '0 0 6px' }}>{tried.sentence}</p>
          {tried.stale.length ? (
            <p className="note">This is out of date: {tried.stale.join(', ')}. Try it again.</p>
          ) : null}
          <PageTable tried={tried} conditionsId={props.conditionsId} />
        </>
      ) : (
        <p style={{ margin: '0 0 6px', maxWidth: '70ch' }}>{beforeWords(data)}</p>
      )}
      {family && measured.length ? (
        <div className="row">
          <JobButton
            kind="family-check"
            label={tried ? 'Try them again' : 'Try the plan on them'}
            {...props}
            primary={false}
          />
        </div>
      ) : null}
    </section>
  );
}

function beforeWords({ family, measured, notMeasured }: FamilyCheckView): string {
  if (!family)
    return 'This page is of no family. Give it one on the board, and its plan can be tried on the pages that share its template.';
  if (measured.length === 0)
    return notMeasured.length
      ? `No other page of ${family} is measured: measure ${notMeasured[0]} to try the plan there.`
      : `${family} has no other page.`;
  return `What is put into a template is put into all its pages. The plan’s rules are tried on ${measured.join(', ')} as well: what is refused there is named, the rest is rehearsed on a phone, a minute or two a page.`;
}

function PageTable({
  tried,
  conditionsId,
}: {
  tried: NonNullable<FamilyCheckView['tried']>;
  conditionsId: string;
}) {
  return (
    <div className="sheet" style={{ marginBottom: 10 }}>
      <table className="plain">
        <thead>
          <tr>
            <th>Page</th>
            <th className="number">Rules</th>
            <th className="number">Orders</th>
            <th>What came of it</th>
          </tr>
        </thead>
        <tbody>
          {tried.pages.map(({ pageId, name, rules, held, holds, refused, withoutFold, faults, gaveUp }) => (
            <tr key={pageId}>
              <td>
                <Link href={`/pages/${pageId}/treat?conditions=${conditionsId}`}>{name}</Link>
              </td>
              <td className="number">{rules}</td>
              <td className="number">{held}</td>
              <td style={{ overflowWrap: 'anywhere' }}>
                {holds ? 'holds' : null}
                {faults.map(({ what, evidence }) => (
                  <div key={what}>
                    <b>breaks</b>: {nameOf(what)}. {evidence}
                  </div>
                ))}
                {gaveUp ? <div>More is at fault than was found in time.</div> : null}
                {refused.map(({ what, why }) => (
                  <div key={what}>
                    <b>refused</b>: {nameOf(what)}, {why}
                  </div>
                ))}
                {withoutFold ? (
                  <div>not tried: {withoutFold} of its stylesheets, as it has no fold CSS yet</div>
                ) : null}
                {rules + withoutFold === 0
                  ? 'it has nothing that the plan is about'
                  : held === 0 && rules > 0
                    ? 'not rehearsed: there was no time'
                    : null}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

function nameOf(what: string): string {
  return /^https?:/.test(what) ? fileNameOf(what) : what.slice(0, 60);
}
