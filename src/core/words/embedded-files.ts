/** What to do about CSS that is mostly files written into it: they cannot be left out of fold CSS, since text needs its font. */
export const EMBEDDED_FILES =
  'Most of it are files written into the sheet (data: addresses): make them files of their own, and measure again.';
