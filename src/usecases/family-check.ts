import { planFingerprint, type Plan, type PlanRule } from '../core/treat/plan.ts';
import { applyPlan } from '../core/treat/apply.ts';
import { carriedOver } from '../core/treat/carry-over.ts';
import { matchText } from '../core/treat/plan.ts';
import { familySentence, holdsOn, type FamilyPage } from '../core/words/family-check.ts';
import type { Queries } from '../store/database.ts';
import { findFamilyCheck } from '../store/family-checks.ts';
import { measurementsOf } from '../store/measurements.ts';
import { latestFold } from '../store/proofs.ts';
import { findPage, listPages, type Page } from '../store/sites.ts';
import { measuredPage, planFor, sceneFor } from './stored-page.ts';

/** The other pages of a page's family, those measured under conditions apart from those that are not. */
export async function siblingsOf(
  queries: Queries,
  page: Page,
  conditionsId: string,
): Promise<{ measured: Page[]; others: Page[] }> {
  const pages = await listPages(queries);
  const siblings = pages.filter(
    (one) => page.family && one.family === page.family && one.siteId === page.siteId && one.id !== page.id,
  );
  const known = await Promise.all(
    siblings.map(async (one) => (await measurementsOf(queries, one.id, conditionsId, 1)).length > 0),
  );
  return {
    measured: siblings.filter((_one, index) => known[index]),
    others: siblings.filter((_one, index) => !known[index]),
  };
}

/** A plan as it stands on another page, with what may not be carried out there; null where that was not measured. */
export async function planOnPage(
  queries: Queries,
  pageId: number,
  conditionsId: string,
  plan: Plan,
): Promise<({ plan: Plan } & Pick<FamilyPage, 'refused' | 'withoutFold'>) | null> {
  const page = await measuredPage(queries, pageId, conditionsId);
  if (!page) return null;
  const scene = sceneFor(page, await latestFold(queries, pageId), []);
  const carried = carriedOver(plan, page.capture.url, scene).plan;
  // What a page has no fold CSS for cannot be tried there; it may be legal all the same.
  const isBare = ({ treatment }: PlanRule) => /^fold-css-/.test(treatment) && !scene.foldUsable;
  const there = { ...carried, rules: carried.rules.filter((rule) => !isBare(rule)) };
  const { notApplied } = applyPlan(scene, there);
  const nameOf = (ruleId: string) => matchText(there.rules.find((one) => one.id === ruleId)!.match);
  return {
    plan: there,
    refused: notApplied.map(({ ruleId, why }) => ({ what: nameOf(ruleId), why })),
    withoutFold: carried.rules.length - there.rules.length,
  };
}

export interface FamilyCheckView {
  family: string;
  /** Names of its other pages that can be tried, and of those that have to be measured first. */
  measured: string[];
  notMeasured: string[];
  /** What it came to last; null where it was not tried. */
  tried: {
    takenAt: string;
    sentence: string;
    pages: (FamilyPage & { holds: boolean })[];
    stale: string[];
  } | null;
}

/** What a page's plan came to on the other pages of its family; null when it was not measured. */
export async function familyCheckView(
  queries: Queries,
  pageId: number,
  conditionsId: string,
): Promise<FamilyCheckView | null> {
  const [page, measured] = await Promise.all([
    findPage(queries, pageId),
    measuredPage(queries, pageId, conditionsId),
  ]);
  if (!page || !measured) return null;
  const [siblings, check, { plan }] = await Promise.all([
    siblingsOf(queries, page, conditionsId),
    findFamilyCheck(queries, pageId, conditionsId),
    planFor(queries, pageId, measured),
  ]);
  const tried = check && {
    takenAt: check.takenAt,
    sentence: familySentence(check.pages, page.family),
    pages: check.pages.map((one) => ({ ...one, holds: holdsOn(one) })),
    stale: [
      ...(planFingerprint(plan) === planFingerprint(check.plan) ? [] : ['the plan was changed']),
      ...(await capturedSince(queries, siblings.measured, check.pages, conditionsId)),
    ],
  };
  return {
    family: page.family,
    measured: siblings.measured.map(({ name }) => name),
    notMeasured: siblings.others.map(({ name }) => name),
    tried,
  };
}

async function capturedSince(
  queries: Queries,
  pages: readonly Page[],
  tried: readonly FamilyPage[],
  conditionsId: string,
): Promise<string[]> {
  const now = await Promise.all(
    pages.map(async ({ id, name }) => {
      const [newest] = await measurementsOf(queries, id, conditionsId, 1);
      const before = tried.find((one) => one.pageId === id);
      if (!before) return `${name} was not there`;
      return newest && newest.captureId !== before.captureId ? `${name} was captured again` : null;
    }),
  );
  return now.filter((one) => one !== null);
}
