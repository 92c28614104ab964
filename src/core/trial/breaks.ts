/** By what a page can be said to break. */
export const BREAK_KINDS = [
  'console',
  'failed-requests',
  'missing-requests',
  'rehearsal',
  'first-picture',
  'late-answers',
] as const;
export type BreakKind = (typeof BREAK_KINDS)[number];

/** Something that broke, in words: "1 new console error". */
export interface Break {
  kind: BreakKind;
  words: string;
}
