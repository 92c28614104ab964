'use client';
import { count, ms, paintName } from '@/core/path/words';
import type { Comparable } from '@/store/measurements';
import type { MapView } from '@/usecases/map-view';
import { when } from '../../figures';

const GROUPS: readonly [relation: Comparable['relation'], title: string][] = [
  ['before', 'Measured before'],
  ['conditions', 'Under other conditions'],
  ['page', 'Other pages'],
];

/** What a measurement is called among those it can be chosen from. */
function nameOf(one: Comparable): string {
  const name =
    one.relation === 'before' ? when(one.takenAt) : one.relation === 'page' ? one.page : one.conditions;
  return one.special ? `${name}, signed in or after steps` : name;
}

/** What is not as it is in another measurement: the one before, or one the user holds this against. */
export function Differences({
  data,
  onAgainst,
  onPick,
}: {
  data: MapView;
  onAgainst: (id: number) => void;
  onPick: (url: string) => void;
}) {
  const { comparable, differences, assets } = data;
  if (comparable.length === 0) return null;
  const inTime = differences?.against.relation === 'before';
  const here = new Set(assets.map((asset) => asset.url));
  const words: Record<string, string> = inTime ? {} : { appeared: 'only here', went: 'only there' };
  return (
    <section aria-label="Differences" style={{ marginTop: 18 }}>
      <h2 style={{ fontSize: 15, margin: '0 0 4px' }}>
        <label>
          Held against{' '}
          <select
            className="small-field"
            style={{ width: 'auto', maxWidth: 320 }}
            aria-label="The measurement to compare this one with"
            value={differences?.against.id ?? ''}
            onChange={(event) => onAgainst(Number(event.target.value))}
          >
            {differences ? null : <option value="">choose a measurement</option>}
            {GROUPS.map(([relation, title]) => {
              const own = comparable.filter((one) => one.relation === relation);
              return own.length ? (
                <optgroup key={relation} label={title}>
                  {own.map((one) => (
                    <option key={one.id} value={one.id}>
                      {nameOf(one)}
                    </option>
                  ))}
                </optgroup>
              ) : null;
            })}
          </select>
        </label>{' '}
        {differences ? (
          <span className="muted">
            {differences.all.length === 0
              ? 'the same assets, of the same size and hold'
              : `${count(differences.all.length)} ${differences.all.length === 1 ? 'difference' : 'differences'}`}
            {differences.paintMs !== null && data.target !== null && differences.apart === null
              ? `; ${paintName(data.target)} ${ms(differences.paintMs)} ${inTime ? 'before' : 'there'}, ${ms(data.target.atMs)} ${inTime ? 'now' : 'here'}`
              : ''}
            {differences.apart ? `. ${differences.apart}` : ''}
          </span>
        ) : null}
      </h2>
      {differences?.all.map((one) => (
        <p key={one.what + one.url} style={{ margin: '3px 0' }}>
          {here.has(one.url) ? (
            <button type="button" className="plain-link" onClick={() => onPick(one.url)}>
              {one.name}
            </button>
          ) : (
            one.name
          )}{' '}
          <b>{words[one.what] ?? one.what}</b>: {one.sentence}
        </p>
      ))}
    </section>
  );
}
