import { createHash } from 'node:crypto';
import { sizesOf } from '../core/images/lighter.ts';
import type { OwnCheck } from '../core/checks/own-check.ts';
import type { Capture } from '../core/measure/exchange.ts';
import type { NextPages } from '../core/next/next-assets.ts';
import type { RequestTiming } from '../core/measure/run.ts';
import type { VisitState } from '../core/measure/visit.ts';
import { REHEARSAL_VERSION, type EvidencePictures, type Rehearsal } from '../core/rehearse/rehearsal.ts';
import { planFingerprint, type Plan } from '../core/treat/plan.ts';
import type { MappedFold } from '../core/path/map-page.ts';
import type { Database } from '../store/database.ts';
import { pictureType, smallerPicture } from '../engine/load/smaller-picture.ts';
import type { NewPicture } from '../store/proofs.ts';
import { EVIDENCE, findRehearsal, keepRehearsal } from '../store/rehearsals.ts';
import { dropFoundSoFar, foundSoFar, keepFoundSoFar } from '../store/found-so-far.ts';
import { foldMark } from './fold-hash.ts';
import type { Carry } from './carry.ts';

/** What a plan is rehearsed on. */
export interface Rehearsable {
  pageId: number;
  pageName: string;
  capture: Capture;
  bodies: Map<string, Uint8Array>;
  state: VisitState | null;
  requests: RequestTiming[];
  fold: MappedFold | null;
  /** What can be asked for ahead of its next pages; nothing where that is not known. */
  next?: NextPages;
  /** What the developer wrote down that the page does. */
  checks: readonly OwnCheck[];
}

/** Headers that decide what a page does with what it gets. */
const TELLING = /^(content-type|content-security-policy|link|refresh)$/i;

/** The hash of a captured page: two captures with the same bytes behave alike. */
export function contentHash({ capture, state }: Pick<Rehearsable, 'capture' | 'state'>): string {
  const content = capture.exchanges.map(({ method, url, status, bodyHash, responseHeaders }) => [
    method,
    url,
    status,
    bodyHash,
    responseHeaders.filter(([name]) => TELLING.test(name)),
  ]);
  // Each part by itself: what was stored has its keys in another order.
  const made = (capture.lighter?.images ?? []).map(({ url, of, needs, sizedByFile, versions }) => [
    url,
    of,
    sizesOf(needs),
    sizedByFile,
    versions.map(({ width, bodyHash }) => [width, bodyHash]),
  ]);
  const fonts = (capture.lighter?.fonts ?? []).map(({ url, of, smaller, ranges }) => [
    url,
    of,
    smaller.bodyHash,
    ranges,
  ]);
  const lighter = [made, fonts].filter((one) => one.length > 0);
  return sha256(JSON.stringify([capture.documentUrl, content, state, ...lighter]));
}

/** The hash of all that goes into rehearsing a plan. @param content of the captured page */
export function rehearsalKey(
  content: string,
  plan: Plan,
  fold: Rehearsable['fold'],
  checks: readonly OwnCheck[],
): string {
  const own = checks.length ? [checks.map(({ text }) => text)] : [];
  return sha256(JSON.stringify([REHEARSAL_VERSION, content, planFingerprint(plan), foldMark(fold), ...own]));
}

/** What rehearsing a plan shows; the same is rehearsed once only, and goes on where it was broken off. */
export async function rehearsed(
  database: Database,
  page: Rehearsable,
  plan: Plan,
  carry: Carry,
): Promise<Rehearsal> {
  const { pageId, ...rest } = page;
  const key = rehearsalKey(contentHash(page), plan, page.fold, page.checks);
  const kept = await findRehearsal(database, pageId, key);
  if (kept) return kept;
  const before = await foundSoFar(database, pageId, key);
  const { rehearsal, pictures } = await carry(
    { kind: 'rehearse', ...rest, plan, ...(before ? { before } : {}) },
    // What could not be kept is found again, if it ever comes to that.
    (soFar) => {
      if (soFar.kind !== 'rehearsal') return;
      const { plan: left, exceptions } = soFar;
      void keepFoundSoFar(database, pageId, key, { plan: left, exceptions }).catch(() => undefined);
    },
  );
  await keepRehearsed(database, page, plan, rehearsal, pictures);
  return rehearsal;
}

/** Keeps what rehearsing a plan has shown, for the plan that went in and for what is left of it. */
export async function keepRehearsed(
  database: Database,
  page: Pick<Rehearsable, 'pageId' | 'capture' | 'state' | 'fold' | 'checks'>,
  plan: Plan,
  rehearsal: Rehearsal,
  pictures: readonly EvidencePictures[] = [],
): Promise<void> {
  const shown = await Promise.all(pictures.flatMap(evidence));
  const content = contentHash(page);
  const key = rehearsalKey(content, plan, page.fold, page.checks);
  const after = rehearsalKey(content, rehearsal.plan, page.fold, page.checks);
  await database.transaction(async (queries) => {
    await keepRehearsal(queries, page.pageId, key, rehearsal, shown);
    await dropFoundSoFar(queries, page.pageId);
    if (after !== key && !rehearsal.gaveUp)
      await keepRehearsal(queries, page.pageId, after, { ...rehearsal, exceptions: [] });
  });
}

/** The pictures of a rule at fault, each under its rule's id and what it is of. */
function evidence({ ruleId, ...pictures }: EvidencePictures): Promise<NewPicture>[] {
  return EVIDENCE.map(async (of) => {
    const image = await smallerPicture(pictures[of]);
    return { name: `${ruleId} ${of}`, image, mimeType: pictureType(image) };
  });
}

function sha256(text: string): string {
  return createHash('sha256').update(text).digest('hex');
}
