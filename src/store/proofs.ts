import type { FoldRecord, StoredAnswers } from '../core/fold/record.ts';
import type { Conditions } from '../core/measure/conditions.ts';
import type { VisitKind } from '../core/measure/visit.ts';
import type { PageDecisions } from '../core/treat/decisions.ts';
import type { Plan } from '../core/treat/plan.ts';
import type { Rebound } from '../core/treat/rebind.ts';
import type { Queries } from './database.ts';
import { FOLD as FOLD_RECORD } from './records/fold.ts';
import { PAGE_DECISIONS } from './records/page-decisions.ts';
import { PLAN as PLAN_RECORD } from './records/plan.ts';
import { TRIAL as TRIAL_RECORD, type TrialRecord } from './records/trial.ts';
import { jsonOf } from './storable.ts';

/** A picture to be stored with a fold proof or a trial. */
export interface NewPicture {
  name: string;
  mimeType: string;
  image: Uint8Array;
  atMs?: number;
  completeness?: number;
}

export interface PictureInfo {
  id: number;
  name: string;
  atMs: number | null;
  completeness: number | null;
}

export interface StoredFold extends FoldRecord {
  id: number;
  captureId: number;
  /** The user decided to use it although it is not proved. */
  accepted: boolean;
  pictures: PictureInfo[];
}

export type { TrialRecord } from './records/trial.ts';

/** What a trial was of. Trials of before do not tell all of it. */
export interface TrialProvenance {
  captureId: number;
  /** Which visit was timed. */
  visit: VisitKind;
  plan: Plan;
  /** Whether the plan was the user's own. */
  ownPlan: boolean | null;
  /** By it is known whether what the user decided is still so; null for a trial of before, or where nothing was. */
  decided: string | null;
  foldHash: string | null;
  conditions: Conditions | null;
}

export interface StoredTrial extends TrialRecord, TrialProvenance {
  id: number;
  pictures: PictureInfo[];
}

/** A trial's row: what is kept as records is not read yet. */
type TrialRow = Omit<TrialProvenance, 'plan'> & { plan: unknown; data: unknown };

/** Stores a fold result, and what the page said for it. Call it inside a transaction. */
export async function addFold(
  queries: Queries,
  pageId: number,
  captureId: number,
  fold: FoldRecord,
  hash: string,
  answers: StoredAnswers,
  pictures: readonly NewPicture[],
): Promise<number> {
  const [row] = await queries.query<{ id: number }>(
    'INSERT INTO fold (page_id, capture_id, taken_at, data, hash, answers) VALUES ($1, $2, $3, $4, $5, $6) RETURNING id',
    [pageId, captureId, fold.takenAt, FOLD_RECORD.write(fold), hash, jsonOf(answers)],
  );
  for (const picture of pictures) await addPicture(queries, 'fold_id', row!.id, picture);
  return row!.id;
}

interface FoldRow {
  id: number;
  captureId: number;
  accepted: boolean;
  data: unknown;
}

const FOLD = 'id, capture_id AS "captureId", accepted, data FROM fold';

/** The newest set of a page, and the one before it. */
export async function latestFolds(
  queries: Queries,
  pageId: number,
): Promise<[StoredFold | null, StoredFold | null]> {
  const rows = await queries.query<FoldRow>(`SELECT ${FOLD} WHERE page_id = $1 ORDER BY id DESC LIMIT 2`, [
    pageId,
  ]);
  const [newest, before] = await Promise.all(
    rows.map(async ({ data, ...row }) => ({
      ...FOLD_RECORD.read(data),
      ...row,
      pictures: await picturesOf(queries, 'fold_id', row.id),
    })),
  );
  return [newest ?? null, before ?? null];
}

export async function latestFold(queries: Queries, pageId: number): Promise<StoredFold | null> {
  return (await latestFolds(queries, pageId))[0];
}

/** The pages that fold CSS was made for. */
export async function pagesWithFold(queries: Queries): Promise<Set<number>> {
  const rows = await queries.query<{ pageId: number }>('SELECT DISTINCT page_id AS "pageId" FROM fold');
  return new Set(rows.map(({ pageId }) => pageId));
}

/** What a page said for its newest set of its own; null where none was made. */
export async function latestAnswers(queries: Queries, pageId: number): Promise<StoredAnswers | null> {
  const [row] = await queries.query<{ answers: StoredAnswers }>(
    `SELECT answers FROM fold WHERE page_id = $1 AND answers IS NOT NULL AND NOT (data ->> 'shared')::boolean ORDER BY id DESC LIMIT 1`,
    [pageId],
  );
  return row?.answers ?? null;
}

/** Records that a set is to be used, or not, although it is not proved. @returns false when there is none */
export async function acceptFold(queries: Queries, pageId: number, accepted: boolean): Promise<boolean> {
  const rows = await queries.query<{ id: number }>(
    'UPDATE fold SET accepted = $2 WHERE id = (SELECT max(id) FROM fold WHERE page_id = $1) RETURNING id',
    [pageId, accepted],
  );
  return rows.length > 0;
}

const PROVENANCE = `trial.capture_id AS "captureId", trial.plan, trial.own_plan AS "ownPlan", trial.decided, trial.visit, trial.fold_hash AS "foldHash", trial.conditions`;

/** Stores a trial. Call it inside a transaction. */
export async function addTrial(
  queries: Queries,
  pageId: number,
  of: TrialProvenance & { conditions: Conditions },
  trial: TrialRecord,
  pictures: readonly NewPicture[],
): Promise<number> {
  const [row] = await queries.query<{ id: number }>(
    `INSERT INTO trial (page_id, capture_id, conditions_id, taken_at, plan, own_plan, decided, fold_hash, conditions, data, visit)
     VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11) RETURNING id`,
    [
      pageId,
      of.captureId,
      of.conditions.id,
      trial.takenAt,
      PLAN_RECORD.write(of.plan),
      of.ownPlan,
      of.decided,
      of.foldHash,
      jsonOf(of.conditions),
      TRIAL_RECORD.write(trial),
      of.visit,
    ],
  );
  for (const picture of pictures) await addPicture(queries, 'trial_id', row!.id, picture);
  return row!.id;
}

/** The other pages of a page's site that were tried under conditions, the most important first. */
export function pagesTried(
  queries: Queries,
  pageId: number,
  conditionsId: string,
): Promise<{ id: number; name: string }[]> {
  return queries.query(
    `SELECT id, name FROM page WHERE site_id = (SELECT site_id FROM page WHERE id = $1) AND id <> $1
       AND EXISTS (SELECT 1 FROM trial WHERE trial.page_id = page.id AND trial.conditions_id = $2 AND visit = 'first')
     ORDER BY rank, id`,
    [pageId, conditionsId],
  );
}

/** A page's newest trial under conditions: that of first visits is what a plan is proved by. */
export async function latestTrial(
  queries: Queries,
  pageId: number,
  conditionsId: string,
  visit: VisitKind = 'first',
): Promise<StoredTrial | null> {
  const [row] = await queries.query<TrialRow & { id: number }>(
    `SELECT id, ${PROVENANCE}, data FROM trial WHERE page_id = $1 AND conditions_id = $2 AND visit = $3 ORDER BY id DESC LIMIT 1`,
    [pageId, conditionsId, visit],
  );
  if (!row) return null;
  const { data, plan, ...of } = row;
  return {
    ...TRIAL_RECORD.read(data),
    ...of,
    plan: PLAN_RECORD.read(plan),
    pictures: await picturesOf(queries, 'trial_id', row.id),
  };
}

/** A page's newest trial as the board tells it, with what there is now that it may no longer be of. */
export interface TrialOnBoard extends TrialProvenance {
  pageId: number;
  data: TrialRecord;
  now: {
    captureId: number;
    /** What the user decided for the page; null for nothing. */
    decisions: PageDecisions | null;
    foldHash: string | null;
    foldUsable: boolean;
    /** Something was decided for its site since. */
    decidedSince: boolean;
    /** Its images were made lighter since. */
    lighterSince: boolean;
  };
}

/** The newest trial of every page's first visits under conditions. */
export async function latestTrials(queries: Queries, conditionsId: string): Promise<TrialOnBoard[]> {
  const rows = await queries.query<TrialRow & Pick<TrialOnBoard, 'pageId' | 'now'>>(
    `SELECT DISTINCT ON (trial.page_id) trial.page_id AS "pageId", ${PROVENANCE}, trial.data,
       jsonb_build_object(
         'captureId', (SELECT capture_id FROM measurement WHERE measurement.page_id = trial.page_id
            AND measurement.conditions_id = $1 AND visit = 'first' ORDER BY measurement.id DESC LIMIT 1),
         'decisions', own.data, 'foldHash', newest.hash,
         'foldUsable', COALESCE(newest.accepted OR (newest.data ->> 'proved')::boolean, false),
         'decidedSince', COALESCE(site.decided_at > trial.taken_at, false),
         'lighterSince', COALESCE(lighter.taken_at > trial.taken_at, false)) AS now
     FROM trial
     JOIN page ON page.id = trial.page_id JOIN site ON site.id = page.site_id
     LEFT JOIN plan AS own ON own.page_id = trial.page_id
     LEFT JOIN lighter_images AS lighter ON lighter.page_id = trial.page_id
     LEFT JOIN fold AS newest ON newest.id = (SELECT max(id) FROM fold WHERE fold.page_id = trial.page_id)
     WHERE trial.conditions_id = $1 AND trial.visit = 'first' ORDER BY trial.page_id, trial.id DESC`,
    [conditionsId],
  );
  return rows.map(({ data, plan, now, ...row }) => ({
    ...row,
    plan: PLAN_RECORD.read(plan),
    data: TRIAL_RECORD.read(data),
    now: { ...now, decisions: now.decisions && PAGE_DECISIONS.read(now.decisions) },
  }));
}

export async function pictureImage(
  queries: Queries,
  id: number,
): Promise<{ mimeType: string; image: Uint8Array } | null> {
  return (
    (
      await queries.query<{ mimeType: string; image: Uint8Array }>(
        'SELECT mime_type AS "mimeType", image FROM picture WHERE id = $1',
        [id],
      )
    )[0] ?? null
  );
}

/** What the user decided for a page; null for nothing: what is recommended is followed. */
export async function pageDecisionsOf(queries: Queries, pageId: number): Promise<PageDecisions | null> {
  const [row] = await queries.query<{ data: unknown }>('SELECT data FROM plan WHERE page_id = $1', [pageId]);
  return row ? PAGE_DECISIONS.read(row.data) : null;
}

/** What became of the decisions when the page was captured again; null where nothing did, or it was seen. */
export async function reboundOf(queries: Queries, pageId: number): Promise<Rebound | null> {
  const [row] = await queries.query<{ rebound: Rebound | null }>(
    'SELECT rebound FROM plan WHERE page_id = $1',
    [pageId],
  );
  return row?.rebound ?? null;
}

/** @param rebound what of them was bound anew; none where the user saves them, who has seen that */
export async function savePageDecisions(
  queries: Queries,
  pageId: number,
  decisions: PageDecisions,
  rebound: Rebound | null = null,
): Promise<void> {
  await queries.query(
    `INSERT INTO plan (page_id, data, rebound) VALUES ($1, $2, $3)
     ON CONFLICT (page_id) DO UPDATE SET data = $2, rebound = $3, updated_at = now()`,
    [pageId, PAGE_DECISIONS.write(decisions), rebound && jsonOf(rebound)],
  );
}

/** Back to what is recommended. */
export async function dropPageDecisions(queries: Queries, pageId: number): Promise<void> {
  await queries.query('DELETE FROM plan WHERE page_id = $1', [pageId]);
}

async function addPicture(
  queries: Queries,
  owner: 'fold_id' | 'trial_id',
  id: number,
  picture: NewPicture,
): Promise<void> {
  await queries.query(
    `INSERT INTO picture (${owner}, name, at_ms, completeness, mime_type, image) VALUES ($1, $2, $3, $4, $5, $6)`,
    [id, picture.name, picture.atMs ?? null, picture.completeness ?? null, picture.mimeType, picture.image],
  );
}

function picturesOf(queries: Queries, owner: 'fold_id' | 'trial_id', id: number): Promise<PictureInfo[]> {
  return queries.query<PictureInfo>(
    `SELECT id, name, at_ms AS "atMs", completeness FROM picture WHERE ${owner} = $1 ORDER BY id`,
    [id],
  );
}
