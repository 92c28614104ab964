/** Another asset, a script in the page or an element, and what of it, or for it, is needed. */
export interface Tie {
  /** "carousel.js", "inline script, line 40", "button#menu". */
  who: string;
  /** Its address, where it is an asset. */
  url: string | null;
  /** "reads $ on line 12" */
  why: string;
}

/** What an asset gives to the page and what it takes. */
export interface AssetTies {
  /** Names that others can use: "global names" $, jQuery. */
  defines: { what: string; names: string[] }[];
  neededBy: Tie[];
  needs: Tie[];
}

export const NO_TIES: AssetTies = { defines: [], neededBy: [], needs: [] };

/** Names in a sentence: the first few, and how many more. */
export function fewOf(names: readonly string[], most = 3): string {
  const more = names.length - most;
  return names.slice(0, most).join(', ') + (more > 0 ? ` and ${more} more` : '');
}
