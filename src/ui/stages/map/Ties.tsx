'use client';
import type { AssetTies, Tie } from '@/core/path/ties';

const MOST_NAMES = 40;
const MOST_TIES = 12;

/** Who needs an asset, or whom it needs: those that are assets lead to their row. */
export function TiesOf({
  title,
  ties,
  onPick,
}: {
  title: string;
  ties: readonly Tie[];
  onPick: (url: string) => void;
}) {
  if (ties.length === 0) return null;
  return (
    <details open>
      <summary>{title}</summary>
      {ties.slice(0, MOST_TIES).map(({ who, url, why }) => (
        <div key={`${who} ${why}`}>
          {url === null ? (
            <code>{who}</code>
          ) : (
            <button type="button" className="plain-link" onClick={() => onPick(url)}>
              {who}
            </button>
          )}{' '}
          <span className="muted">{why}</span>
        </div>
      ))}
      {ties.length > MOST_TIES ? <p className="muted">and {ties.length - MOST_TIES} more</p> : null}
    </details>
  );
}

/** Names that an asset defines for others. */
export function Defines({ defines }: Pick<AssetTies, 'defines'>) {
  if (defines.length === 0) return null;
  return (
    <details>
      <summary>Defines</summary>
      {defines.map(({ what, names }) => (
        <p key={what} style={{ margin: '2px 0' }}>
          <span className="muted">{what}</span> <code>{names.slice(0, MOST_NAMES).join(', ')}</code>
          {names.length > MOST_NAMES ? (
            <span className="muted"> and {names.length - MOST_NAMES} more</span>
          ) : null}
        </p>
      ))}
    </details>
  );
}
