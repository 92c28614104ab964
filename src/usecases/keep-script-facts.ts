import type { Transactions } from '../store/database.ts';
import { keepFacts } from '../store/script-facts.ts';
import { factsToKeep, thisProgram } from './script-facts.ts';
import { measuredPage } from './stored-page.ts';

/** Reads the scripts of a page that was just measured, and keeps what is in the longer ones. */
export async function keepScriptFacts(
  database: Transactions,
  pageId: number,
  conditionsId: string,
): Promise<void> {
  const page = await measuredPage(database, pageId, conditionsId);
  if (!page?.assets.captured.hasDocument) return;
  const facts = factsToKeep(page.assets.captured);
  await database.transaction((queries) => keepFacts(queries, thisProgram(), facts));
}
