import type { BoardRow, BoardView } from '@/usecases/board-view';

export type SortKey = 'importance' | 'name' | 'paintMs' | 'speedIndexMs' | 'wireBytes' | 'measuredAt';

/** What of the board is shown, and in which order. */
export interface BoardOrder {
  sort: SortKey;
  descending: boolean;
  /** Part of a page's name or address; '' shows all. */
  find: string;
  /** Null shows all families. */
  family: string | null;
}

/** Every page, the most important first. */
export const ALL_IN_ORDER: BoardOrder = { sort: 'importance', descending: false, find: '', family: null };

/** One line of the board: a site's head, or a page. */
export type BoardLine =
  { kind: 'site'; site: BoardView['sites'][number]; pages: number } | { kind: 'page'; row: BoardRow };

/** The board without what is being deleted. @param gone "pages/12", "sites/3" */
export function withoutGone(view: BoardView, gone: ReadonlySet<string>): BoardView {
  if (gone.size === 0) return view;
  const sites = view.sites
    .filter(({ id }) => !gone.has(`sites/${id}`))
    .map((site) => ({ ...site, pages: site.pages.filter(({ id }) => !gone.has(`pages/${id}`)) }));
  return { ...view, sites };
}

/** The board's lines: sites in their order, the pages of each filtered and sorted. Pages without a figure come last. */
export function boardLines(view: BoardView, order: BoardOrder): BoardLine[] {
  const find = order.find.trim().toLowerCase();
  return view.sites.flatMap((site): BoardLine[] => {
    const rows = site.pages.filter(
      (row) =>
        (order.family === null || row.family === order.family) &&
        (find === '' || row.name.toLowerCase().includes(find) || row.url.toLowerCase().includes(find)),
    );
    if (order.sort !== 'importance') rows.sort((a, b) => compare(a, b, order));
    else if (order.descending) rows.reverse();
    const filtered = find !== '' || order.family !== null;
    if (filtered && rows.length === 0) return [];
    return [
      { kind: 'site', site, pages: rows.length },
      ...rows.map((row): BoardLine => ({ kind: 'page', row })),
    ];
  });
}

function compare(a: BoardRow, b: BoardRow, { sort, descending }: BoardOrder): number {
  const value = (row: BoardRow) =>
    sort === 'importance' ? row.rank : sort === 'paintMs' ? shownPaint(row) : row[sort];
  const [one, other] = [value(a), value(b)];
  if (one === null || other === null) return one === other ? 0 : one === null ? 1 : -1;
  const by =
    typeof one === 'string' && typeof other === 'string'
      ? one.localeCompare(other, 'en')
      : Number(one) - Number(other);
  return descending ? -by : by;
}

/** Whether a page has a trial that says something of what there is now. */
export function holds({ trial }: BoardRow): boolean {
  return trial !== null && trial.stale.length === 0;
}

/** A page's paint as is: of the trial where one holds, so that both its figures are of the same runs. */
export function shownPaint(row: BoardRow): number | null {
  return holds(row) && row.trial!.asIsMs !== null ? row.trial!.asIsMs : row.paintMs;
}

/** The treated paint of a trial that holds. */
export function treatedPaint(row: BoardRow): number | null {
  return holds(row) ? row.trial!.treatedMs : null;
}

/** Names of all families on the board, in order. */
export function familiesOf(view: BoardView): string[] {
  const names = new Set(view.sites.flatMap((site) => site.pages.map((row) => row.family)));
  names.delete('');
  return [...names].sort((a, b) => a.localeCompare(b, 'en'));
}
