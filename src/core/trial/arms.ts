/** A variant of a page that is loaded beside others. */
export type ArmId = string;

/** The page as it was captured. */
export const AS_IS: ArmId = 'as-is';
/** The page with its plan. */
export const TREATED: ArmId = 'treated';
