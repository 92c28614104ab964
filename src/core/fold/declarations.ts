/**
 * Properties that place a box without painting it: what is kept for elements that shape the fold from
 * outside it (FOLD: below-fold children of flex, grid and table parents; clipped and off-screen boxes).
 */
const SHAPING =
  /^(display|position|float|clear|top|right|bottom|left|inset.*|width|height|min-.*|max-.*|inline-size|block-size|margin.*|padding.*|border.*-width|border(-top|-right|-bottom|-left)?|box-sizing|flex.*|order|align-.*|justify-.*|place-.*|grid.*|gap|row-gap|column-gap|columns?.*|overflow.*|visibility|opacity|transform|translate|clip.*|contain.*|content-visibility|z-index|font|font-.*|line-height|white-space|aspect-ratio|object-.*|table-layout|vertical-align|text-.*|list-style.*|writing-mode|--.*)$/i;

const HIDING = /^(display|visibility|opacity|content-visibility)$/i;

/** What of a rule is kept, by how its elements concern the fold. */
export type Concern = 'painted' | 'shaping' | 'hidden';

/** Whether a declaration is kept for that concern. */
export function keepsDeclaration(property: string, concern: Concern): boolean {
  if (concern === 'painted') return true;
  return (concern === 'shaping' ? SHAPING : HIDING).test(property);
}
