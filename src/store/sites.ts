import type { Database, Queries } from './database.ts';

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
}

const SITE = `id, name, origin, to_char(seeded_at AT TIME ZONE 'UTC', 'YYYY-MM-DD') AS "seededAt"`;
const PAGE = 'id, site_id AS "siteId", name, url';

export function listSites(database: Queries): Promise<Site[]> {
  return database.query<Site>(`SELECT ${SITE} FROM site ORDER BY id`);
}

export function listPages(database: Queries): Promise<Page[]> {
  return database.query<Page>(`SELECT ${PAGE} FROM page ORDER BY id`);
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
  return database.transaction(async (queries) => {
    const { origin, host } = new URL(url);
    const site = await ensureSite(queries, origin, siteName ?? host);
    await queries.query(
      'INSERT INTO page (site_id, url, name) VALUES ($1, $2, $3) ON CONFLICT (site_id, url) DO NOTHING',
      [site.id, url, name],
    );
    return (
      await queries.query<Page>(`SELECT ${PAGE} FROM page WHERE site_id = $1 AND url = $2`, [site.id, url])
    )[0]!;
  });
}

export async function renameSite(database: Queries, id: number, name: string): Promise<void> {
  await database.query('UPDATE site SET name = $2 WHERE id = $1', [id, name]);
}

export async function renamePage(database: Queries, id: number, name: string): Promise<void> {
  await database.query('UPDATE page SET name = $2 WHERE id = $1', [id, name]);
}

export async function deleteSite(database: Database, id: number): Promise<void> {
  await database.transaction(async (queries) => {
    await queries.query('DELETE FROM site WHERE id = $1', [id]);
    await dropUnusedBodies(queries);
  });
}

export async function deletePage(database: Database, id: number): Promise<void> {
  await database.transaction(async (queries) => {
    await queries.query('DELETE FROM page WHERE id = $1', [id]);
    await dropUnusedBodies(queries);
  });
}

export async function markSeeded(database: Queries, siteId: number, date: string): Promise<void> {
  await database.query('UPDATE site SET seeded_at = $2 WHERE id = $1', [siteId, date]);
}

async function dropUnusedBodies(queries: Queries): Promise<void> {
  await queries.query(
    'DELETE FROM body WHERE NOT EXISTS (SELECT 1 FROM capture_body WHERE capture_body.hash = body.hash)',
  );
}

/** Certificates of their own making that were accepted, by host. */
export function acceptedCertificates(database: Queries): Promise<{ host: string; publicKeyHash: string }[]> {
  return database.query(
    'SELECT host, public_key_hash AS "publicKeyHash" FROM accepted_certificate ORDER BY host',
  );
}

export async function acceptCertificate(
  database: Queries,
  host: string,
  publicKeyHash: string,
): Promise<void> {
  await database.query(
    `INSERT INTO accepted_certificate (host, public_key_hash) VALUES ($1, $2)
     ON CONFLICT (host) DO UPDATE SET public_key_hash = $2, accepted_at = now()`,
    [host, publicKeyHash],
  );
}
