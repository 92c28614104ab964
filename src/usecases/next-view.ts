import { aheadRules, askingAhead } from '../core/next/ahead.ts';
import { linksOf, type NextPages } from '../core/next/next-assets.ts';
import type { NavigationResult } from '../core/next/navigation.ts';
import { matchText, planFingerprint, usesFold } from '../core/treat/plan.ts';
import { whyOtherBasis } from '../core/trial/staleness.ts';
import { navigationWords } from '../core/words/navigation.ts';
import { conditionsById } from '../store/conditions.ts';
import type { Queries } from '../store/database.ts';
import { navigationsFrom, type StoredNavigation } from '../store/navigations.ts';
import { findPage, listPages } from '../store/sites.ts';
import { foldMark } from './fold-hash.ts';
import { linkedNeighbours, nextAssetsOf, nextPagesOf } from './next-pages.ts';
import { measuredPage, planFor, planNow, type PlanNow } from './stored-page.ts';

/** A page that is linked to, with what is asked for ahead of it and what that does. */
export interface NextPageRow {
  pageId: number;
  name: string;
  url: string;
  /** How many files it needs that the page does not, its document among them, and their size. */
  files: number;
  wireBytes: number;
  /** Of these, how many may be asked for ahead, and how many are switched on. */
  possible: number;
  on: number;
  /** What going there showed last; null where it was not tried. */
  tried: (NavigationResult & { sentence: string; takenAt: string; stale: string[]; tooBusy: boolean }) | null;
}

export interface NextView {
  pages: NextPageRow[];
  /** Pages on the board that it links to and that were not measured. */
  notMeasured: { pageId: number; name: string }[];
  /** Whether a rule is switched on at all; else all that are recommended are tried. */
  anyOn: boolean;
}

/** Whether a page's plan was rehearsed, and held: only then it is tried when that page is gone to. */
export function isRehearsed(now: PlanNow | null): now is PlanNow {
  return now !== null && now.rehearsal !== null && !now.rehearsal.gaveUp;
}

/** The pages that a page links to; null when it was not measured. */
export async function nextView(
  queries: Queries,
  pageId: number,
  conditionsId: string,
): Promise<NextView | null> {
  const page = await measuredPage(queries, pageId, conditionsId);
  if (!page) return null;
  const [own, linked, assets, { plan, fold }, conditions, tried] = await Promise.all([
    findPage(queries, pageId),
    linkedNeighbours(queries, pageId, page),
    nextAssetsOf(queries, pageId, page),
    planFor(queries, pageId, page),
    conditionsById(queries, conditionsId),
    navigationsFrom(queries, pageId, conditionsId),
  ]);
  const switchedOn = new Set(aheadRules(plan).map((rule) => matchText(rule.match)));
  const ahead = askingAhead(plan);
  const possible = new Set(
    plan.rules
      .filter(({ kind, treatment }) => kind === 'next' && treatment !== 'as-authored')
      .map((rule) => matchText(rule.match)),
  );
  const plans = new Map<number, PlanNow | null>();
  // Reading a page takes a second: only those that were gone to are read.
  for (const { toPageId } of tried) plans.set(toPageId, await planNow(queries, toPageId, conditionsId));
  const pages = linked.map(({ pageId: toPageId, name, url, captureId }): NextPageRow => {
    const needs = assets.filter((one) => one.pages.some((other) => other.url === url));
    const of = tried.find((one) => one.toPageId === toPageId);
    const stale = of
      ? whyOtherBasis(
          { ...of, fold: of.foldHash, checks: null },
          { captureId: page.captureId, plan: ahead, fold: foldMark(fold), conditions, checks: null },
        )
      : [];
    if (of && of.toCaptureId !== captureId) stale.push(`${name} was captured again`);
    else if (of) stale.push(...whyOtherPlan(of, plans.get(toPageId) ?? null, name));
    return {
      pageId: toPageId,
      name,
      url,
      files: needs.length,
      wireBytes: needs.reduce((sum, one) => sum + one.wireBytes, 0),
      possible: needs.filter((one) => possible.has(one.url)).length,
      on: needs.filter((one) => switchedOn.has(one.url)).length,
      tried: of
        ? {
            pairs: of.pairs,
            withoutMs: of.withoutMs,
            aheadMs: of.aheadMs,
            paint: of.paint,
            largest: of.largest,
            ownPaint: of.ownPaint,
            ownLargest: of.ownLargest,
            both: of.both,
            nextPlan: of.nextPlan,
            sentence: navigationWords(of, own?.name ?? 'The page', name),
            takenAt: of.takenAt,
            stale,
            tooBusy: of.quality.tooBusy,
          }
        : null,
    };
  });
  const links = new Set(page.assets.captured.hasDocument ? linksOf(page.assets.captured) : []);
  const captured = new Set(linked.map((one) => one.pageId));
  const notMeasured = (await listPages(queries))
    .filter((one) => one.siteId === own?.siteId && links.has(one.url) && !captured.has(one.id))
    .map(({ id, name }) => ({ pageId: id, name }));
  return { pages, notMeasured, anyOn: switchedOn.size > 0 };
}

/** Why going to a page says nothing of it with its plan of now, in words; none where it still does. */
function whyOtherPlan(of: StoredNavigation, now: PlanNow | null, name: string): string[] {
  if (!isRehearsed(now)) return of.toPlan ? [`the plan of ${name} is not rehearsed any more`] : [];
  if (of.toPlan === null) return [`the plan of ${name} is rehearsed by now, and was not tried`];
  if (planFingerprint(of.toPlan) !== planFingerprint(now.plan)) return [`the plan of ${name} was changed`];
  return usesFold(now.plan) && of.toFoldHash !== foldMark(now.fold)
    ? [`the fold CSS of ${name} is another one`]
    : [];
}

/** What asking ahead of a page's next ones takes, bytes included; null when it was not measured. */
export async function nextOrder(
  queries: Queries,
  pageId: number,
  conditionsId: string,
): Promise<NextPages | null> {
  const page = await measuredPage(queries, pageId, conditionsId);
  return page && nextPagesOf(queries, pageId, page);
}
