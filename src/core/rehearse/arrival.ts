/** In which order what a page asks for arrives. What is held back comes once everything else rests. */
export interface ArrivalOrder {
  id: string;
  /** As a person would say it: "held until all else rests: lib.js". */
  words: string;
  /** How late an address comes: 0 at once, then one rank after the other. */
  rank(url: string, kind: string): number;
  /** Among held ones the last that was asked for comes first. */
  lastFirst?: boolean;
  /** Hosts that do not answer. */
  failing?: ReadonlySet<string>;
  /** The page stops in the middle for the file of this address. */
  gate?: string;
}

const SHEETS_AND_FONTS = /^(stylesheet|font)$/;

/** Of more touched files than these not each one is held by itself. */
const MOST_HELD_ALONE = 5;

/** As recorded: everything comes at once. */
export const AS_RECORDED: ArrivalOrder = { id: 'recorded', words: 'as recorded', rank: () => 0 };

/** For what is done early: nothing of what the plan touches is there until all else rests. */
export function touchedLast(touched: readonly string[]): ArrivalOrder {
  const isTouched = new Set(touched);
  return {
    id: 'touched last',
    words: 'what the plan touches last',
    rank: (url, kind) => (kind === 'script' && isTouched.has(url) ? 1 : 0),
  };
}

/**
 * The orders of arrival that a page as authored and as treated are held to each other under: what breaks on slow
 * lines does not show on fast ones.
 *
 * @param touched addresses of what the plan touches
 * @param otherHosts hosts beside the page's own that it asks something of
 * @param gate address of a file that the page may stop for in its middle; null where it cannot
 */
export function arrivalOrders(
  touched: readonly string[],
  otherHosts: readonly string[],
  gate: string | null,
): ArrivalOrder[] {
  const isTouched = new Set(touched);
  const name = (url: string) => new URL(url).pathname.split('/').at(-1) || url;
  return [
    AS_RECORDED,
    ...(touched.length
      ? [
          {
            id: 'touched first',
            words: 'what the plan touches first',
            rank: (url: string) => (isTouched.has(url) ? 0 : 1),
          },
        ]
      : []),
    { id: 'reversed', words: 'reversed', rank: () => 1, lastFirst: true },
    ...touched.slice(0, MOST_HELD_ALONE).map((held) => ({
      id: `held ${held}`,
      words: `${name(held)} held until all else rests`,
      rank: (url: string) => (url === held ? 1 : 0),
    })),
    {
      id: 'sheets last',
      words: 'stylesheets and fonts last',
      rank: (_url, kind) => (SHEETS_AND_FONTS.test(kind) ? 1 : 0),
    },
    ...(gate === null
      ? []
      : [
          {
            id: 'second half last',
            words: 'the second half of the page last',
            rank: (url: string) => (url === gate ? 1 : 0),
            gate,
          },
        ]),
    ...otherHosts.map((host): ArrivalOrder => ({
      id: `without ${host}`,
      words: `${host} does not answer`,
      rank: () => 0,
      failing: new Set([host]),
    })),
  ];
}
