/** A variant of a page that is loaded beside others. */
export type ArmId = string;

/** The page as it was captured. */
export const AS_IS: ArmId = 'as-is';
/** The page with its plan. */
export const TREATED: ArmId = 'treated';
/** The page with another plan, beside these two. */
export const OTHER_PLAN: ArmId = 'other plan';
/** The page as its floor takes it to be. */
export const IDEAL: ArmId = 'ideal page';
/** The page with its plan, and the page that is gone to from it with its own. */
export const BOTH_TREATED: ArmId = 'both treated';
