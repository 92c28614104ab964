import { dropUnusedBodies } from './captures.ts';
import type { Database, Queries } from './database.ts';
import { sealedFor } from './states.ts';

export interface Site {
  id: number;
  name: string;
  origin: string;
  seededAt: string | null;
}

export interface Page {
  id: number;
  siteId: number;
  name: string;
  url: string;
  /** Pages of one template; '' for none. */
  family: string;
  /** Order of importance, the least first. */
  rank: number;
}

const SITE = `id, name, origin, to_char(seeded_at AT TIME ZONE 'UTC', 'YYYY-MM-DD') AS "seededAt"`;
const PAGE = 'id, site_id AS "siteId", name, url, family, rank';

export function listSites(database: Queries): Promise<Site[]> {
  return database.query<Site>(`SELECT ${SITE} FROM site ORDER BY id`);
}

export function listPages(database: Queries): Promise<Page[]> {
  return database.query<Page>(`SELECT ${PAGE} FROM page ORDER BY rank, id`);
}

export async function findPage(database: Queries, id: number): Promise<Page | null> {
  return (await database.query<Page>(`SELECT ${PAGE} FROM page WHERE id = $1`, [id]))[0] ?? null;
}

/** The site of that origin, made when it is not there. */
export async function ensureSite(database: Queries, origin: string, name: string): Promise<Site> {
  await database.query('INSERT INTO site (origin, name) VALUES ($1, $2) ON CONFLICT (origin) DO NOTHING', [
    origin,
    name,
  ]);
  return (await database.query<Site>(`SELECT ${SITE} FROM site WHERE origin = $1`, [origin]))[0]!;
}

/** The page of that address, made when it is not there, with its site. */
export function ensurePage(database: Database, url: string, name: string, siteName?: string): Promise<Page> {
  return database.transaction((queries) => insertPage(queries, url, name, siteName));
}

/** The pages of those addresses, all or none; those that are there already stay as they are. */
export function ensurePages(
  database: Database,
  pages: readonly { url: string; name: string }[],
): Promise<Page[]> {
  return database.transaction(async (queries) => {
    const made: Page[] = [];
    for (const { url, name } of pages) made.push(await insertPage(queries, url, name));
    return made;
  });
}

async function insertPage(queries: Queries, url: string, name: string, siteName?: string): Promise<Page> {
  const { origin, host } = new URL(url);
  const site = await ensureSite(queries, origin, siteName ?? host);
  await queries.query(
    `INSERT INTO page (site_id, url, name, rank)
     VALUES ($1, $2, $3, (SELECT COALESCE(max(rank), 0) + 1 FROM page WHERE site_id = $1))
     ON CONFLICT (site_id, url) DO NOTHING`,
    [site.id, url, name],
  );
  const [page] = await queries.query<Page>(`SELECT ${PAGE} FROM page WHERE site_id = $1 AND url = $2`, [
    site.id,
    url,
  ]);
  return page!;
}

/** Puts pages into families; '' takes one out. */
export async function setFamilies(database: Database, families: ReadonlyMap<number, string>): Promise<void> {
  await database.transaction(async (queries) => {
    for (const [id, family] of families)
      await queries.query('UPDATE page SET family = $2 WHERE id = $1', [id, family]);
  });
}

/** Moves a page one place up or down in its site's order of importance. */
export async function movePage(database: Database, id: number, direction: 'up' | 'down'): Promise<void> {
  await database.transaction(async (queries) => {
    const rows = await queries.query<{ id: number }>(
      'SELECT id FROM page WHERE site_id = (SELECT site_id FROM page WHERE id = $1) ORDER BY rank, id',
      [id],
    );
    const order = rows.map((row) => row.id);
    const at = order.indexOf(id);
    const to = direction === 'up' ? at - 1 : at + 1;
    if (at < 0 || to < 0 || to >= order.length) return;
    [order[at], order[to]] = [order[to]!, order[at]!];
    for (const [rank, page] of order.entries())
      await queries.query('UPDATE page SET rank = $2 WHERE id = $1', [page, rank]);
  });
}

export async function renameSite(database: Queries, id: number, name: string): Promise<void> {
  await database.query('UPDATE site SET name = $2 WHERE id = $1', [id, name]);
}

export async function renamePage(database: Queries, id: number, name: string): Promise<void> {
  await database.query('UPDATE page SET name = $2 WHERE id = $1', [id, name]);
}

export async function deleteSite(database: Database, id: number): Promise<void> {
  const sealed = await database.transaction(async (queries) => {
    const held = await sealedFor(queries, 'site', id);
    await queries.query('DELETE FROM site WHERE id = $1', [id]);
    await dropUnusedBodies(queries);
    return held;
  });
  await database.seals.forget(sealed);
}

/** Deletes pages with all that is stored of them, all or none. */
export async function deletePages(database: Database, ids: readonly number[]): Promise<void> {
  const sealed = await database.transaction(async (queries) => {
    const held = [];
    for (const id of ids) {
      held.push(...(await sealedFor(queries, 'page', id)));
      await queries.query('DELETE FROM page WHERE id = $1', [id]);
    }
    await dropUnusedBodies(queries);
    return held;
  });
  await database.seals.forget(sealed);
}

export async function markSeeded(database: Queries, siteId: number, date: string): Promise<void> {
  await database.query('UPDATE site SET seeded_at = $2 WHERE id = $1', [siteId, date]);
}

/** Certificates of their own making that were accepted, by host. */
export function acceptedCertificates(database: Queries): Promise<{ host: string; publicKeyHash: string }[]> {
  return database.query(
    'SELECT host, public_key_hash AS "publicKeyHash" FROM accepted_certificate ORDER BY host',
  );
}

/** Accepts a certificate for those hosts alone. */
export async function acceptCertificate(
  database: Queries,
  hosts: readonly string[],
  publicKeyHash: string,
): Promise<void> {
  await database.query(
    `INSERT INTO accepted_certificate (host, public_key_hash) SELECT DISTINCT host, $2 FROM unnest($1::text[]) AS host
     ON CONFLICT (host) DO UPDATE SET public_key_hash = $2, accepted_at = now()`,
    [hosts, publicKeyHash],
  );
}
