import * as v from 'valibot';
import { DEFAULT_CONDITIONS_ID } from '@/core/measure/conditions';
import { conditionsById } from '@/store/conditions';
import { downloadName } from '@/core/words/download-name';
import { VISIT_KINDS, type VisitKind } from '@/core/measure/visit';
import type { TargetKind } from '@/core/path/map-page';
import type { Database, Queries } from '@/store/database';
import { findPage, type Page } from '@/store/sites';
import { LockedError } from '@/locks/process-lock';
import { applicationDatabase, applicationRead } from '@/usecases/application';
import type { Read } from '@/usecases/readings';

/** Told to the user as it is, with a status. */
export class Refusal extends Error {
  readonly status: number;

  constructor(status: number, message: string) {
    super(message);
    this.status = status;
  }
}

/** Runs a route's work on the database, and with what reads captured pages, and answers in JSON; what goes wrong becomes a plain sentence. */
export async function answer(work: (database: Database, read: Read) => Promise<unknown>): Promise<Response> {
  try {
    const result = await work(await applicationDatabase(), applicationRead);
    return result instanceof Response ? result : Response.json(result ?? {});
  } catch (error) {
    if (error instanceof Refusal) return Response.json({ error: error.message }, { status: error.status });
    if (error instanceof v.ValiError) {
      return Response.json({ error: wordsOf(error.issues[0]) }, { status: 400 });
    }
    const message =
      error instanceof LockedError
        ? `The data folder is in use: ${error.message}`
        : `It could not be done: ${error instanceof Error ? error.message : String(error)}`;
    return Response.json({ error: `${message} Nothing stored was changed.` }, { status: 500 });
  }
}

/** What is wrong, in our own words also where the schema has none: a missing key, a value of another type. */
function wordsOf(issue: v.BaseIssue<unknown>): string {
  if (!issue.message.startsWith('Invalid ')) return issue.message;
  const where = v.getDotPath(issue);
  const what = where ? `“${where}”` : 'The request';
  return issue.received === 'undefined'
    ? `${what} is missing. Nothing stored was changed.`
    : `${what} is not as it has to be: ${issue.expected} is expected. Nothing stored was changed.`;
}

/** A file to keep, called by its page and the day. */
export async function asDownload(
  queries: Queries,
  pageId: number,
  { what, extension, type, body }: { what: string; extension: string; type: string; body: BodyInit },
): Promise<Response> {
  const page = await findPage(queries, pageId);
  const name = downloadName(page?.name ?? '', what, extension, new Date());
  return new Response(body, {
    headers: { 'content-type': type, 'content-disposition': `attachment; filename="${name}"` },
  });
}

/** Reads a JSON body against its schema. */
export async function readBody<S extends v.GenericSchema>(
  request: Request,
  schema: S,
): Promise<v.InferOutput<S>> {
  let body: unknown;
  try {
    body = await request.json();
  } catch {
    throw new Refusal(400, 'The request is not JSON.');
  }
  return v.parse(schema, body);
}

/** A numeric id out of a path. */
export function readId(text: string): number {
  if (!/^\d{1,9}$/.test(text)) throw new Refusal(404, 'There is nothing of that number.');
  return Number(text);
}

export const NO_SUCH_PAGE = 'There is no such page. It may have been deleted.';

/** The page that a path speaks of. */
export async function readPage(queries: Queries, params: Promise<{ id: string }>): Promise<Page> {
  return orElse(await findPage(queries, readId((await params).id)), NO_SUCH_PAGE);
}

/** The conditions a request names, or the default ones. */
export async function readConditions(request: Request, queries: Queries): Promise<string> {
  const id = new URL(request.url).searchParams.get('conditions') ?? DEFAULT_CONDITIONS_ID;
  if (!(await conditionsById(queries, id))) throw new Refusal(400, `There are no conditions “${id}”.`);
  return id;
}

/** Which visit a request speaks of: the first where it names none. */
export function readVisit(request: Request): VisitKind {
  const name = new URL(request.url).searchParams.get('visit') ?? 'first';
  const visit = VISIT_KINDS.find((one) => one === name);
  if (!visit) throw new Refusal(400, `There is no visit “${name}”: ask for first or return.`);
  return visit;
}

const TARGETS: ReadonlyMap<string, TargetKind> = new Map<string, TargetKind>([
  ['first-paint', 'first paint'],
  ['first-contentful-paint', 'first contentful paint'],
  ['largest-contentful-paint', 'largest contentful paint'],
  ['fold', 'fold'],
]);

/** The paint that a request wants the bill of; first paint unless it says so. */
export function readTarget(request: Request): TargetKind | undefined {
  const name = new URL(request.url).searchParams.get('paint');
  if (name === null) return undefined;
  const target = TARGETS.get(name);
  if (!target) throw new Refusal(400, `There is no paint “${name}”.`);
  return target;
}

/** The value, or a refusal that says what is missing. */
export function orElse<T>(value: T | null | undefined, message: string): T {
  if (value === null || value === undefined) throw new Refusal(404, message);
  return value;
}
