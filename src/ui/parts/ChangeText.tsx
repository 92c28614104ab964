import type { Change } from '@/core/treat/compose';

/** What stood somewhere, and what stands there now. @param most characters of either that are shown */
export function ChangeText({
  change: { before, after },
  most,
}: {
  change: Pick<Change, 'before' | 'after'>;
  most: number;
}) {
  return (
    <>
      {before ? (
        <pre className="before" tabIndex={0}>
          − {before.slice(0, most)}
        </pre>
      ) : null}
      <pre className="after" tabIndex={0}>
        + {after.slice(0, most) || '(left out)'}
      </pre>
    </>
  );
}
