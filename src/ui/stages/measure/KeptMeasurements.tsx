'use client';
import { HEADLINE_NAMES, type HeadlineKey } from '@/core/measure/headline';
import { bytes, capital, count } from '@/core/path/words';
import type { KeptMeasurement } from '@/store/kept-measurements';
import { useDeletions } from '../../Deletions';
import { when } from '../../figures';

/** All measurements that are kept, what each takes, and their deletion one by one. */
export function KeptMeasurements({
  pageId,
  kept: all,
  headline,
}: {
  pageId: number;
  kept: readonly KeptMeasurement[];
  headline: HeadlineKey;
}) {
  const { gone, remove } = useDeletions();
  const kept = all.filter(({ id }) => !gone.has(keyOf(id)));
  const total = kept.reduce((sum, one) => sum + one.ownBytes, 0);
  const many = kept.length === 1 ? '1 measurement' : `${kept.length} measurements`;
  return (
    <details className="note">
      <summary>
        {many} kept, {bytes(total)}: each until you delete it
      </summary>
      <div
        className="sheet"
        style={{ overflowX: 'auto', marginTop: 6 }}
        tabIndex={0}
        role="group"
        aria-label="Kept measurements"
      >
        <table className="plain">
          <thead>
            <tr>
              <th>Measured</th>
              <th className="number">Runs</th>
              <th className="number">{capital(HEADLINE_NAMES[headline])}, ms</th>
              <th className="number">Speed Index, ms</th>
              <th className="number">Kept with it</th>
              <th>What is deleted with it</th>
              <th />
            </tr>
          </thead>
          <tbody>
            {kept.map((one, index) => (
              <KeptRow
                key={one.id}
                one={one}
                headline={headline}
                isShown={index === 0}
                onDelete={() =>
                  remove({
                    keys: [keyOf(one.id)],
                    words: `The measurement of ${when(one.takenAt)} is deleted`,
                    path: `/api/pages/${pageId}/measurements/${one.id}`,
                  })
                }
              />
            ))}
          </tbody>
        </table>
      </div>
    </details>
  );
}

/** One measurement: its figures, what it takes, and its deletion. */
function KeptRow({
  one,
  headline,
  isShown,
  onDelete,
}: {
  one: KeptMeasurement;
  headline: HeadlineKey;
  isShown: boolean;
  onDelete: () => void;
}) {
  return (
    <tr>
      <td>
        {when(one.takenAt)}
        {isShown ? <span className="muted"> shown</span> : null}
      </td>
      <td className="number">{one.runs}</td>
      <td className="number">{figureOf(one[headline])}</td>
      <td className="number">{figureOf(one.speedIndexMs)}</td>
      <td className="number">{bytes(one.ownBytes)}</td>
      <td className="muted">
        {one.captureStays
          ? 'its figures and pictures; its capture stays, something else was made from it'
          : 'its figures, pictures and capture'}
      </td>
      <td style={{ whiteSpace: 'nowrap' }}>
        <button
          type="button"
          className="key"
          aria-label={`Delete the measurement of ${when(one.takenAt)}`}
          onClick={onDelete}
        >
          delete
        </button>
      </td>
    </tr>
  );
}

const keyOf = (id: number) => `measurements/${id}`;

const figureOf = (ms: number | null) => (ms === null ? '–' : count(ms));
