'use client';
import type { Floor } from '@/core/path/floor';
import { count } from '@/core/path/words';

/** The lines of the floor, and what they sum to. */
export function FloorTable({ floor }: { floor: Floor }) {
  return (
    <table className="plain">
      <tbody>
        {floor.lines.map(({ label, why, ms: long }) => (
          <tr key={label}>
            <td style={{ width: 36 }} />
            <td className="number" style={{ width: 52 }}>
              <b>{count(long)}</b>
            </td>
            <td style={{ width: 282 }}>{label}</td>
            <td className="muted" title={why}>
              {why}
            </td>
          </tr>
        ))}
        <tr>
          <td />
          <td className="number">
            <b>{count(floor.atMs)}</b>
          </td>
          <td>
            <b>the floor</b>
          </td>
          <td className="muted">
            {floor.measured
              ? 'The earliest first paint ever measured here.'
              : 'No treatment takes this away.'}
          </td>
        </tr>
      </tbody>
    </table>
  );
}
