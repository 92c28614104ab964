import { BUDGET_BYTES } from './budget.ts';
import type { FoldDecision } from './decisions.ts';
import type { RestMode } from './rest-mode.ts';
import { FOLD_VIEWPORTS, type FoldViewport } from './viewports.ts';

/** How a page's fold CSS is made, by the user's choice. It stays when the set is made again. */
export interface FoldSettings {
  viewports: FoldViewport[];
  decisions: FoldDecision[];
  /** For the compressed head, bytes. */
  budgetBytes: number;
  rest: RestMode;
}

export const DEFAULT_FOLD_SETTINGS: FoldSettings = {
  viewports: [...FOLD_VIEWPORTS],
  decisions: [],
  budgetBytes: BUDGET_BYTES,
  rest: 'whole',
};
