/** A viewport that fold CSS is made for. */
export interface FoldViewport {
  width: number;
  height: number;
  /** Where the fold lies, CSS px from the top; the viewport's height where it is not given. */
  foldHeight?: number;
}

/** Phone, tablet and laptop: the viewports fold CSS is made for unless others are named. */
export const FOLD_VIEWPORTS: readonly FoldViewport[] = [
  { width: 390, height: 844 },
  { width: 820, height: 1180 },
  { width: 1440, height: 900 },
];

/** Where the fold of a viewport lies, CSS px. */
export function foldOf(viewport: FoldViewport): number {
  return Math.min(viewport.foldHeight ?? viewport.height, viewport.height);
}

/** "390×844", with the fold where it is not the viewport's lower edge. */
export function nameOfViewport(viewport: FoldViewport): string {
  const fold = foldOf(viewport);
  return `${viewport.width}×${viewport.height}${fold < viewport.height ? ` (fold at ${fold})` : ''}`;
}

/** How many widths between the chosen viewports the proof looks at as well. */
const BETWEEN = 3;

/**
 * Widths between the least and the greatest chosen one at which the set has to hold too: one in each of the
 * widest stretches between the widths where the layout may change, so that no stretch is left unlooked at
 * before another is looked at twice.
 *
 * @param breakpoints widths that the page's media queries name, px
 */
export function viewportsBetween(
  viewports: readonly FoldViewport[],
  breakpoints: readonly number[],
): FoldViewport[] {
  const chosen = [...viewports].sort((a, b) => a.width - b.width);
  const [first, last] = [chosen[0], chosen.at(-1)];
  if (!first || !last || last.width - first.width < 2) return [];
  const inside = breakpoints.filter((width) => width > first.width && width < last.width);
  const edges = [...new Set([...chosen.map((one) => one.width), ...inside])].sort((a, b) => a - b);
  const stretches = edges
    .slice(1)
    .map((to, index) => ({ from: edges[index]!, size: to - edges[index]!, looks: 0 }))
    .filter((stretch) => stretch.size > BETWEEN);
  for (let count = 0; count < BETWEEN && stretches.length > 0; count++) {
    const least = Math.min(...stretches.map((stretch) => stretch.looks));
    const next = stretches
      .filter((stretch) => stretch.looks === least)
      .reduce((one, other) => (other.size > one.size ? other : one));
    next.looks++;
  }
  const found = stretches.flatMap(({ from, size, looks }) =>
    Array.from({ length: looks }, (_one, index) => from + Math.round((size * (index + 1)) / (looks + 1))),
  );
  return found
    .sort((a, b) => a - b)
    .map((width) => {
      // The device whose height and touch it shares: the widest chosen one that is no wider.
      const near = chosen.findLast((one) => one.width <= width) ?? first;
      return { ...near, width };
    });
}
