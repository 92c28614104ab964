/** A named device and network to emulate. Rates are kilobits a second, times milliseconds. */
export interface Conditions {
  id: string;
  name: string;
  viewport: { width: number; height: number };
  pixelRatio: number;
  touch: boolean;
  /** User agent class: pages may answer a phone differently. */
  agent: 'phone' | 'desktop';
  /** How many times slower the CPU is made; 1 leaves it alone. */
  cpuSlowdown: number;
  roundTripMs: number;
  downKbps: number;
  upKbps: number;
  /**
   * How pages are served in replay: with the protocol they were captured over, or, for a page captured over
   * plain HTTP from a developer's own server, as production would serve it (HTTPS with HTTP/2).
   */
  protocol: 'as-captured' | 'production';
}

/** What the conditions editor accepts; what a machine really holds is in docs/benchmarks.md. */
export const CONDITIONS_LIMITS = {
  kbps: { least: 100, most: 100_000 },
  roundTripMs: { least: 0, most: 2_000 },
  cpuSlowdown: { least: 1, most: 20 },
  side: { least: 200, most: 4_000 },
  pixelRatio: { least: 1, most: 4 },
} as const;

/** The built-in conditions, slowest first. The first is the default. */
export const BUILT_IN_CONDITIONS: readonly Conditions[] = [
  {
    id: 'slow-phone',
    name: 'Slow phone',
    viewport: { width: 390, height: 844 },
    pixelRatio: 3,
    touch: true,
    agent: 'phone',
    cpuSlowdown: 5,
    roundTripMs: 180,
    downKbps: 1_400,
    upKbps: 600,
    protocol: 'as-captured',
  },
  {
    id: 'everyday-phone',
    name: 'Everyday phone',
    viewport: { width: 390, height: 844 },
    pixelRatio: 3,
    touch: true,
    agent: 'phone',
    cpuSlowdown: 3,
    roundTripMs: 90,
    downKbps: 8_000,
    upKbps: 3_000,
    protocol: 'as-captured',
  },
  {
    id: 'home-laptop',
    name: 'Home laptop',
    viewport: { width: 1440, height: 900 },
    pixelRatio: 1,
    touch: false,
    agent: 'desktop',
    cpuSlowdown: 1,
    roundTripMs: 35,
    downKbps: 25_000,
    upKbps: 6_000,
    protocol: 'as-captured',
  },
  {
    id: 'office-desktop',
    name: 'Office desktop',
    viewport: { width: 1920, height: 1080 },
    pixelRatio: 1,
    touch: false,
    agent: 'desktop',
    cpuSlowdown: 1,
    roundTripMs: 12,
    downKbps: 80_000,
    upKbps: 40_000,
    protocol: 'as-captured',
  },
];

export const DEFAULT_CONDITIONS_ID = 'slow-phone';

/** The built-in conditions of that id, or undefined. */
export function findConditions(id: string): Conditions | undefined {
  return BUILT_IN_CONDITIONS.find((conditions) => conditions.id === id);
}

/** One line that says the conditions: "390×844 · 180 ms · 1.4 Mbps · CPU at 20 % speed". */
export function describeConditions(conditions: Conditions): string {
  const { width, height } = conditions.viewport;
  const cpu =
    conditions.cpuSlowdown === 1
      ? 'CPU at full speed'
      : `CPU at ${Math.round(100 / conditions.cpuSlowdown)} % speed`;
  return `${width}×${height} · ${conditions.roundTripMs} ms · ${conditions.downKbps / 1000} Mbps · ${cpu}`;
}
