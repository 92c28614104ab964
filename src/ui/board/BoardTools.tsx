'use client';
import Button from '@mui/material/Button';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { aboutTime } from '@/core/words/about-time';
import type { BoardRow, BoardView } from '@/usecases/board-view';
import { call, type useStartJobs } from '../api';
import type { BoardOrder } from './board-rows';

/** What is done with all pages that are shown, and which are. */
export function BoardTools({
  all,
  rows,
  order,
  families,
  conditionsId,
  secondsEach,
  onOrder,
  onAdd,
  startMany,
}: {
  all: readonly BoardRow[];
  /** Those that are shown. */
  rows: readonly BoardRow[];
  order: BoardOrder;
  families: readonly string[];
  conditionsId: string;
  secondsEach: BoardView['secondsEach'] | undefined;
  onOrder: (order: BoardOrder) => void;
  onAdd: () => void;
  startMany: ReturnType<typeof useStartJobs>;
}) {
  const client = useQueryClient();
  const guess = useMutation({
    mutationFn: () => call('/api/families', { method: 'POST', body: {} }),
    onSettled: () => client.invalidateQueries({ queryKey: ['board'] }),
  });
  const startAll = (kind: 'measure' | 'fold') =>
    startMany.mutate({
      kind,
      // The most important first, whatever the order on the screen.
      pageIds: [...rows].sort((a, b) => a.rank - b.rank).map((row) => row.id),
      conditionsId,
    });
  const shown = rows.length === all.length ? 'all' : `these ${rows.length}`;
  return (
    <div className="row">
      <Button
        variant="contained"
        onClick={() => startAll('measure')}
        disabled={rows.length === 0 || startMany.isPending}
      >
        Measure {shown}
      </Button>
      <HowLong each={secondsEach?.measure} pages={rows.length} />
      <Button
        variant="outlined"
        title="Each from its newest capture; pages that wait to be measured come after that"
        onClick={() => startAll('fold')}
        disabled={rows.length === 0 || startMany.isPending}
      >
        Fold CSS for {shown}
      </Button>
      <HowLong each={secondsEach?.fold} pages={rows.length} />
      <Button variant="outlined" onClick={onAdd}>
        Add pages
      </Button>
      <Which order={order} families={families} onOrder={onOrder} />
      <Button variant="outlined" onClick={() => guess.mutate()} disabled={guess.isPending}>
        Guess families
      </Button>
      <span style={{ flex: 1 }} />
      <span className="muted">
        <span className="as-is">●</span> as is&ensp;<span className="treated">●</span> treated, proved
      </span>
    </div>
  );
}

/** How long it will take beside a button that starts it for all; nothing where that is not known. */
function HowLong({ each, pages }: { each: number | null | undefined; pages: number }) {
  return each && pages > 0 ? <span className="muted">{aboutTime(each * pages)}</span> : null;
}

/** Which pages are shown: by their names, and of a family. */
function Which({
  order,
  families,
  onOrder,
}: {
  order: BoardOrder;
  families: readonly string[];
  onOrder: (order: BoardOrder) => void;
}) {
  return (
    <>
      <input
        className="small-field"
        style={{ width: 170 }}
        aria-label="Show pages by name"
        placeholder="show by name"
        value={order.find}
        onChange={(event) => onOrder({ ...order, find: event.target.value })}
      />
      <select
        className="small-field"
        style={{ width: 'auto' }}
        aria-label="Show a family"
        value={order.family ?? ''}
        onChange={(event) => onOrder({ ...order, family: event.target.value || null })}
      >
        <option value="">all families</option>
        {families.map((family) => (
          <option key={family}>{family}</option>
        ))}
      </select>
    </>
  );
}
