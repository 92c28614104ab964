import { giveBack } from '../core/har/held-back.ts';
import { writeHar } from '../core/har/write-har.ts';
import type { Queries } from '../store/database.ts';
import { secretsOf } from '../store/settings.ts';
import { captureSecretsOf } from '../store/states.ts';
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
  const held = keepSecrets ? await captureSecretsOf(queries, page.captureId) : null;
  const har = writeHar(held ? giveBack(page.capture, held.held) : page.capture, page.bodies, {
    keepSecrets,
    secretHeaders: secrets.headers.map(([name]) => name),
    metrics: page.medianRun.metrics,
  });
  return JSON.stringify(har);
}
