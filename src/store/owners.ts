import type { Queries } from './database.ts';

/** Names that the user gave to the owners of domains: two domains of one name are one owner. */
export async function ownerNames(queries: Queries): Promise<Map<string, string>> {
  const rows = await queries.query<{ domain: string; name: string }>(
    'SELECT domain, name FROM owner_name ORDER BY domain',
  );
  return new Map(rows.map((row) => [row.domain, row.name]));
}

/** Names the owner of domains; an empty name leaves each domain to itself again. Call it inside a transaction. */
export async function nameOwner(queries: Queries, domains: readonly string[], name: string): Promise<void> {
  for (const domain of domains) {
    if (name)
      await queries.query(
        'INSERT INTO owner_name (domain, name) VALUES ($1, $2) ON CONFLICT (domain) DO UPDATE SET name = $2',
        [domain, name],
      );
    else await queries.query('DELETE FROM owner_name WHERE domain = $1', [domain]);
  }
}
