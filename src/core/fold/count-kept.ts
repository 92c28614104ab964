import type { KeptRule } from './choose.ts';

/** How many of a sheet's own rules are kept: what stands in it by name only (faces, keyframes) is none of those counted. */
export const countKept = (kept: readonly KeptRule[]): number =>
  kept.filter((rule) => rule.reason !== 'named').length;
