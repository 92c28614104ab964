import { ms } from '@/core/path/words';
import type { HeadlineKey } from '@/core/measure/headline';
import type { Job } from '@/store/jobs';
import type { BoardRow, BoardView } from '@/usecases/board-view';
import type { Deletion } from '../Deletions';
import { when } from '../figures';

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

/** What a line is known by, wherever it stands. */
export const keyOfLine = (line: BoardLine) =>
  line.kind === 'site' ? `site ${line.site.id}` : `page ${line.row.id}`;

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

/** Which paint is shown of it. */
export function shownHeadline(row: BoardRow): HeadlineKey {
  return holds(row) ? row.trial!.headline : row.headline;
}

/** The treated paint of a trial that holds. */
export function treatedPaint(row: BoardRow): number | null {
  return holds(row) ? row.trial!.treatedMs : null;
}

/** Where the scale of all paints ends, ms: there is room for the last one's figure. */
export function scaleEnd(lines: readonly BoardLine[]): number {
  const paints = lines.flatMap((line) =>
    line.kind === 'page' ? [shownPaint(line.row) ?? 0, treatedPaint(line.row) ?? 0] : [],
  );
  return Math.max(1_000, ...paints) * 1.5;
}

/** What was started last for each page: what runs is told, not what waits behind it. */
export function lastJobs<J extends Pick<Job, 'pageId' | 'state'>>(jobs: readonly J[]): Map<number, J> {
  const last = new Map<number, J>();
  for (const job of jobs)
    if (job.pageId !== null && last.get(job.pageId)?.state !== 'running') last.set(job.pageId, job);
  return last;
}

/** Names of all families on the board, in order. */
export function familiesOf(view: BoardView): string[] {
  const names = new Set(view.sites.flatMap((site) => site.pages.map((row) => row.family)));
  names.delete('');
  return [...names].sort((a, b) => a.localeCompare(b, 'en'));
}

/** How much earlier a page is proved to paint, ms; null where that is not proved, or not of what there is now. */
export function gainOf(row: BoardRow): number | null {
  return holds(row) && row.trial!.verdict === 'earlier' ? -row.trial!.differenceMs : null;
}

/** What is known of a page: of its trial where there is one, which says more than its measurement. */
export function stateWords(row: BoardRow): string {
  const gain = gainOf(row);
  if (row.measuredAt === null) return 'not measured';
  if (gain !== null) return `proved ${ms(gain)} earlier`;
  if (row.trial) return holds(row) ? `trial: ${row.trial.verdict}` : 'trial out of date';
  return row.tooBusy ? 'measured on a busy machine' : `measured ${when(row.measuredAt)}`;
}

/** Where a page is opened: at what its paint waits for, once that is known. */
export const firstStageOf = (row: BoardRow, conditionsId: string) =>
  `/pages/${row.id}/${row.paintMs === null ? 'measure' : 'map'}?conditions=${conditionsId}`;

/** The work that is started for a page where its row stands. */
export type StartedForRow = 'measure' | 'fold';

/** What leads further with a page: work that starts at once, or a stage to go to. */
export type NextStep =
  { name: string; starts: StartedForRow } | { name: string; stage: 'measure' | 'prove' | 'handoff' };

/** The step that leads further with a page. @param failed what was started last for it has failed */
export function nextStep(row: BoardRow, failed: boolean): NextStep {
  if (failed) return { name: 'See why', stage: 'measure' };
  if (row.measuredAt === null) return { name: 'Measure', starts: 'measure' };
  if (gainOf(row) !== null) return { name: 'Hand off', stage: 'handoff' };
  if (row.trial)
    return holds(row) ? { name: 'See the trial', stage: 'prove' } : { name: 'Prove again', stage: 'prove' };
  return row.hasFold ? { name: 'Prove', stage: 'prove' } : { name: 'Make fold CSS', starts: 'fold' };
}

/** What is deleted with a site. */
export const deletionOfSite = ({ id, name }: { id: number; name: string }): Deletion => ({
  keys: [`sites/${id}`],
  words: `${name} is deleted, with all its pages and what is stored of them`,
  path: `/api/sites/${id}`,
});

/** What is deleted with pages, one or more. */
export function deletionOfPages(rows: readonly Pick<BoardRow, 'id' | 'name'>[]): Deletion {
  const what = 'captures, measurements, fold CSS, plan and trials';
  return {
    keys: rows.map(({ id }) => `pages/${id}`),
    words:
      rows.length === 1
        ? `${rows[0]!.name} is deleted, with ${what}`
        : `${rows.length} pages are deleted, with ${what}`,
    path: '/api/pages/many',
    body: { pageIds: rows.map(({ id }) => id) },
  };
}
