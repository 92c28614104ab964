'use client';
import Button from '@mui/material/Button';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { aboutTime } from '@/core/words/about-time';
import type { BoardRow, BoardView } from '@/usecases/board-view';
import { call, type useStartJobs } from '../api';
import { useDeletions } from '../Deletions';
import type { Named } from '../NameDialog';
import { deletionOfPages, type StartedForRow } from './board-rows';

/** What is done with the pages that are chosen, or else with all that are shown. */
export function BoardTools({
  all,
  rows,
  chosen,
  conditionsId,
  secondsEach,
  onAdd,
  onName,
  onNone,
  startMany,
}: {
  all: readonly BoardRow[];
  /** Those that are shown. */
  rows: readonly BoardRow[];
  /** Those of them that are chosen. */
  chosen: readonly BoardRow[];
  conditionsId: string;
  secondsEach: BoardView['secondsEach'] | undefined;
  onAdd: () => void;
  onName: (named: Named) => void;
  onNone: () => void;
  startMany: ReturnType<typeof useStartJobs>;
}) {
  const client = useQueryClient();
  const guess = useMutation({
    mutationFn: () => call('/api/families', { method: 'POST', body: {} }),
    onSettled: () => client.invalidateQueries({ queryKey: ['board'] }),
  });
  const wanted = chosen.length > 0 ? chosen : rows;
  const startAll = (kind: StartedForRow) =>
    startMany.mutate({
      kind,
      // The most important first, whatever the order on the screen.
      pageIds: [...wanted].sort((a, b) => a.rank - b.rank).map((row) => row.id),
      conditionsId,
    });
  const those = wanted.length === all.length ? 'all' : `these ${wanted.length}`;
  return (
    <div className="row">
      <Button
        variant="contained"
        onClick={() => startAll('measure')}
        disabled={wanted.length === 0 || startMany.isPending}
      >
        Measure {those}
      </Button>
      <HowLong each={secondsEach?.measure} pages={wanted.length} />
      <Button
        variant="outlined"
        title="Each from its newest capture; pages that wait to be measured come after that"
        onClick={() => startAll('fold')}
        disabled={wanted.length === 0 || startMany.isPending}
      >
        Fold CSS for {those}
      </Button>
      <HowLong each={secondsEach?.fold} pages={wanted.length} />
      {chosen.length > 0 ? (
        <WithChosen chosen={chosen} onName={onName} onNone={onNone} />
      ) : (
        <>
          <Button variant="outlined" onClick={onAdd}>
            Add pages
          </Button>
          <Button
            variant="outlined"
            title="From addresses and structure: pages of one template make a family"
            onClick={() => guess.mutate()}
            disabled={guess.isPending}
          >
            Guess families
          </Button>
        </>
      )}
    </div>
  );
}

/** What is done with several pages and takes no time. */
function WithChosen({
  chosen,
  onName,
  onNone,
}: {
  chosen: readonly BoardRow[];
  onName: (named: Named) => void;
  onNone: () => void;
}) {
  const { remove } = useDeletions();
  const families = new Set(chosen.map((row) => row.family));
  const name = chosen.length === 1 ? chosen[0]!.name : `${chosen.length} pages`;
  return (
    <>
      <Button
        variant="outlined"
        onClick={() =>
          onName({
            action: 'family',
            pageIds: chosen.map((row) => row.id),
            name,
            family: families.size === 1 ? chosen[0]!.family : '',
          })
        }
      >
        Put in a family
      </Button>
      <Button
        variant="outlined"
        onClick={() => {
          remove(deletionOfPages(chosen));
          onNone();
        }}
      >
        Delete {chosen.length === 1 ? 'it' : 'them'}
      </Button>
      <Button variant="outlined" onClick={onNone}>
        Choose none
      </Button>
    </>
  );
}

/** How long it will take beside a button that starts it for all; nothing where that is not known. */
function HowLong({ each, pages }: { each: number | null | undefined; pages: number }) {
  return each && pages > 0 ? <span className="muted">{aboutTime(each * pages)}</span> : null;
}
