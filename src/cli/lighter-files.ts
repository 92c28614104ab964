import { activeRules, type Plan } from '../core/treat/plan.ts';
import { embedOnPress } from '../core/treat/treatments/embed-on-press.ts';
import { carryOut } from '../engine/jobs/orders.ts';
import type { Database } from '../store/database.ts';
import { keepMadeLighter, pagesBeside, withLighter } from '../usecases/lighter-files.ts';
import type { Captured } from './fold-command.ts';

/** Whether a plan uses lighter files. */
export function usesLighterFiles(plan: Plan): boolean {
  return activeRules(plan).some(
    ({ kind, treatment }) =>
      kind === 'image-file' || kind === 'font-file' || (kind === 'embed' && treatment === embedOnPress.id),
  );
}

/** A captured page with lighter versions of its files: those that were made before where they still fit, else new ones. */
export async function lighterFilesOf<C extends Captured>(
  database: Database,
  captured: C,
  say: (step: string) => void,
  signal: AbortSignal,
): Promise<C> {
  const { result, pageId, captureId } = captured;
  const { capture, bodies, state } = result;
  const known = () => withLighter(database, pageId, captureId, capture, new Map(bodies));
  const kept = await known();
  if (kept.capture.lighter) return { ...captured, result: { ...result, ...kept } };
  const made = await carryOut(
    {
      kind: 'lighter-images',
      pageName: capture.url,
      capture,
      bodies,
      state,
      others: await pagesBeside(database, pageId),
    },
    say,
    signal,
  );
  await database.transaction((queries) =>
    keepMadeLighter(queries, pageId, captureId, { capture, bodies }, made),
  );
  return { ...captured, result: { ...result, ...(await known()) } };
}
