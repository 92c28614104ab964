/** What is known of the circumstances of a run; nothing of what it measured. */
export interface RunCircumstances {
  /** 95th percentile of the lateness of the bottleneck's timers, ms. */
  latenessMs: number;
  /** Share of the machine's processor time that others used meanwhile, 0 to 1; null where it cannot be told. */
  othersCpu: number | null;
}

/**
 * The rule, fixed beforehand (docs/method.md): a run is rejected when the bottleneck's timers were late, or
 * when others used the machine. It never sees the page's own figures.
 */
export const REJECT_WHEN = { latenessMs: 15, othersCpu: 0.3 } as const;

/** At most this many rejected runs are made again for each run that is wanted. */
export const REPEATS_PER_RUN = 2;

/** Why a run is rejected, in words; null when it counts. */
export function rejectionOf(run: RunCircumstances): string | null {
  if (run.latenessMs > REJECT_WHEN.latenessMs)
    return `the network’s timers were ${Math.round(run.latenessMs)} ms late`;
  if (run.othersCpu !== null && run.othersCpu > REJECT_WHEN.othersCpu)
    return `others used ${Math.round(run.othersCpu * 100)} % of the machine`;
  return null;
}

/** The value below which a share of the values lie; 0 for none. */
export function percentile(values: readonly number[], share: number): number {
  if (values.length === 0) return 0;
  const sorted = [...values].sort((a, b) => a - b);
  return sorted[Math.min(sorted.length - 1, Math.floor(sorted.length * share))]!;
}

/** What a run's own figures say of each other: they were computed apart and have to agree. */
export interface RunFigures {
  firstPaintMs: number | null;
  speedIndexMs: number | null;
  /** The first frame that is not blank. */
  firstFrameMs: number | null;
  /** Sum over the requests, as the browser told. */
  wireBytes: number;
  requests: number;
  /** What the bottleneck let through to the browser: bodies, headers, and the making of connections. */
  sentBytes: number;
}

/** One frame at 60 a second: what Speed Index and first paint may differ by. */
const ONE_FRAME_MS = 17;
const FRAME_AGREES_MS = 20;
/** Bytes of headers a request, of a page's connections, and the share that encryption and framing add. */
const BESIDE_BODIES = { request: 2_500, connections: 60_000, share: 0.12 } as const;

/** What does not agree within a run, in words. An empty list is as it should be. */
export function disagreements(run: RunFigures): string[] {
  const said: string[] = [];
  const { firstPaintMs, speedIndexMs, firstFrameMs } = run;
  if (firstPaintMs !== null && speedIndexMs !== null && speedIndexMs < firstPaintMs - ONE_FRAME_MS)
    said.push(
      `Speed Index (${Math.round(speedIndexMs)} ms) is earlier than first paint (${Math.round(firstPaintMs)} ms)`,
    );
  if (
    firstPaintMs !== null &&
    firstFrameMs !== null &&
    Math.abs(firstFrameMs - firstPaintMs) > FRAME_AGREES_MS
  )
    said.push(
      `the first picture came ${Math.round(Math.abs(firstFrameMs - firstPaintMs))} ms ${firstFrameMs > firstPaintMs ? 'after' : 'before'} first paint`,
    );
  const most =
    run.wireBytes * (1 + BESIDE_BODIES.share) +
    run.requests * BESIDE_BODIES.request +
    BESIDE_BODIES.connections;
  if (run.wireBytes > run.sentBytes || run.sentBytes > most)
    said.push(
      `the requests sum to ${Math.round(run.wireBytes).toLocaleString('en-GB')} bytes, the network let ${Math.round(run.sentBytes).toLocaleString('en-GB')} through`,
    );
  return said;
}
