import { writeHar } from '../core/har/write-har.ts';
import type { Queries } from '../store/database.ts';
import { secretsOf } from '../store/settings.ts';
import { measuredPage } from './stored-page.ts';

/** A page's newest capture under conditions as HAR 1.2, as text; null when it was not measured. */
export async function harText(
  queries: Queries,
  pageId: number,
  conditionsId: string,
  keepSecrets: boolean,
): Promise<string | null> {
  const page = await measuredPage(queries, pageId, conditionsId);
  if (!page) return null;
  const secrets = await secretsOf(queries, pageId);
  const har = writeHar(page.capture, page.bodies, {
    keepSecrets,
    secretHeaders: secrets.headers.map(([name]) => name),
    metrics: page.medianRun.metrics,
  });
  return JSON.stringify(har);
}
