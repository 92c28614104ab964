import type { VisitKind } from '@/core/measure/visit';

/** What screens ask the application: the key that an answer is kept by, and the address that gives it. */
export interface Question {
  key: readonly (string | number | null)[];
  path: string;
}

const under = (conditionsId: string) => `conditions=${encodeURIComponent(conditionsId)}`;

export const JOBS: Question = { key: ['jobs'], path: '/api/jobs' };

export const CONDITIONS: Question = { key: ['conditions'], path: '/api/conditions' };

export const boardQuestion = (conditionsId: string): Question => ({
  key: ['board', conditionsId],
  path: `/api/board?${under(conditionsId)}`,
});

export const pageQuestion = (pageId: number, conditionsId: string): Question => ({
  key: ['page', pageId, conditionsId],
  path: `/api/pages/${pageId}?${under(conditionsId)}`,
});

/** What one stage of a page shows; `null` is answered where there is nothing yet. */
export const stageQuestion = (pageId: number, view: string, conditionsId: string): Question => ({
  key: ['page', pageId, view, conditionsId],
  path: `/api/pages/${pageId}/${view}?${under(conditionsId)}`,
});

/** What a trial came to. @param visit which visit it timed */
export const proveQuestion = (pageId: number, conditionsId: string, visit: VisitKind): Question => ({
  key: ['page', pageId, 'prove', conditionsId, visit],
  path: `/api/pages/${pageId}/prove?${under(conditionsId)}${visit === 'first' ? '' : `&visit=${visit}`}`,
});

/** @param paint which paint's bill is wanted; null for the headline's. @param against a measurement; null for the one before */
export const mapQuestion = (
  pageId: number,
  conditionsId: string,
  paint: string | null = null,
  against: number | null = null,
): Question => ({
  key: ['page', pageId, 'map', conditionsId, paint, against],
  path: `/api/pages/${pageId}/map?${under(conditionsId)}${paint === null ? '' : `&paint=${paint}`}${against === null ? '' : `&against=${against}`}`,
});

/** How a page's fold CSS is made. */
export const foldSettingsQuestion = (pageId: number): Question => ({
  key: ['page', pageId, 'fold-settings'],
  path: `/api/pages/${pageId}/fold-settings`,
});

/** What the developer says that a page does. */
export const ownChecksQuestion = (pageId: number): Question => ({
  key: ['own-checks', pageId],
  path: `/api/pages/${pageId}/own-checks`,
});

/** What the bar on every screen asks. */
const BAR: readonly Question[] = [JOBS, CONDITIONS];

/** All that the page board shows first. */
export const boardScreen = (conditionsId: string): Question[] => [...BAR, boardQuestion(conditionsId)];

/** All that a stage's screen shows first. */
export const stageScreen = (
  pageId: number,
  stage: string,
  conditionsId: string,
  visit: VisitKind,
): Question[] => [
  ...BAR,
  pageQuestion(pageId, conditionsId),
  stage === 'map'
    ? mapQuestion(pageId, conditionsId)
    : stage === 'prove'
      ? proveQuestion(pageId, conditionsId, visit)
      : stageQuestion(pageId, stage, conditionsId),
  ...(SHOW_OWN_CHECKS.has(stage) ? [ownChecksQuestion(pageId)] : []),
  ...(stage === 'fold' ? [foldSettingsQuestion(pageId)] : []),
];

const SHOW_OWN_CHECKS = new Set(['treat', 'prove']);
