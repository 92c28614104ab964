'use client';
import { useDeletions } from '../Deletions';
import type { Named } from '../NameDialog';
import { deletionOfSite, type BoardLine } from './board-rows';
import { RowActions } from './RowActions';

/** A site: its name and address, and what is done with it. */
export function SiteLine({
  line,
  style,
  onName,
}: {
  line: Extract<BoardLine, { kind: 'site' }>;
  style: React.CSSProperties;
  onName: (named: Named) => void;
}) {
  const { site } = line;
  const { remove } = useDeletions();
  return (
    <div role="row" className="board-site" style={style}>
      <div role="cell" className="row" style={{ margin: 0 }}>
        <h2 style={{ fontSize: 15, margin: 0 }}>{site.name}</h2>
        <code className="muted" title={site.origin}>
          {site.origin}
        </code>
        {site.seededAt ? <span className="muted">demo data measured on {site.seededAt}</span> : null}
        <span style={{ flex: 1 }} />
        <RowActions
          name={site.name}
          acts={[
            {
              name: 'Rename',
              act: () => onName({ action: 'rename', kind: 'sites', id: site.id, name: site.name }),
            },
            null,
            { name: 'Delete', act: () => remove(deletionOfSite(site)) },
          ]}
        />
      </div>
    </div>
  );
}
