/** How the CSS that is not inlined arrives: whole sheets, sheets less the fold rules, or only what is ever used. */
export type RestMode = 'whole' | 'less-fold' | 'used-only';

export const REST_WORDS: Record<RestMode, string> = {
  whole: 'the whole stylesheets',
  'less-fold': 'the stylesheets without the rules already inlined',
  'used-only': 'only the rules that something on the measured pages uses',
};
