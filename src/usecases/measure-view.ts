import type { Metrics, MetricSpreads } from '../core/measure/metrics.ts';
import { METRICS } from '../core/measure/metrics.ts';
import type { MovingContent } from '../core/measure/run.ts';
import type { RunCircumstances } from '../core/measure/quality.ts';
import { headlineOfSpreads, type HeadlineKey } from '../core/measure/headline.ts';
import { yardsticksDiffer, yardstickWords } from '../core/measure/yardstick.ts';
import { addressOf } from '../core/field/field-figures.ts';
import { compareWithField, type FieldComparison } from '../core/field/resemblance.ts';
import type { Observations } from '../core/measure/exchange.ts';
import { findCapture, type StoredCapture } from '../store/captures.ts';
import type { Queries } from '../store/database.ts';
import { fieldFiguresOf } from '../store/field-figures.ts';
import { keptMeasurements, type KeptMeasurement } from '../store/kept-measurements.ts';
import { findPage } from '../store/sites.ts';
import { isStateLost } from '../store/states.ts';
import { caveatsOf, emptyPaintOf } from './caveats.ts';
import {
  framesOf,
  historyOf,
  measurementsOf,
  returnVisitsOf,
  runsOf,
  type FrameInfo,
  type HistoryPoint,
  type StoredMeasurement,
  type StoredRun,
} from '../store/measurements.ts';

/** One run as the Measure stage lists it. */
export interface RunRow {
  id: number;
  metrics: Metrics;
  replayNotes: number;
  neverRested: boolean;
  circumstances: RunCircumstances;
  disagreements: string[];
}

export interface MeasureView {
  measurement: StoredMeasurement;
  runs: RunRow[];
  /** Second loads with what the first ones cached. */
  returning: { spreads: MetricSpreads; runs: number } | null;
  /** The measurement before this one, and what changed since. */
  previous: {
    takenAt: string;
    spreads: MetricSpreads;
    /** Why times cannot be held against each other, where they cannot. */
    apart: string | null;
  } | null;
  /** The paint that everything is told by. */
  headline: HeadlineKey;
  /** Said with the first sentence where the first paint shows nothing. */
  emptyPaint: string | null;
  /** What is to be known with every figure. */
  caveats: string[];
  history: HistoryPoint[];
  /** All that are kept under these conditions, the newest first. */
  kept: KeptMeasurement[];
  frames: FrameInfo[];
  windowMs: number;
  heat: StoredRun['heat'];
  moving: MovingContent | null;
  /** How far the figures can be trusted, in sentences. */
  quality: string[];
  lcp: { element: string; url: string | null; parts: { label: string; ms: number }[] } | null;
  shifts: Observations['shifts'];
  longTasks: StoredRun['longTasks'];
  fonts: Observations['fonts'];
  notes: string[];
  /** Real visitors' figures beside these; null where none were given. */
  field: FieldComparison | null;
}

/** What the Measure stage shows of a page under conditions; null when it was not measured. */
export async function measureView(
  queries: Queries,
  pageId: number,
  conditionsId: string,
): Promise<MeasureView | null> {
  const [measurement, previous = null] = await measurementsOf(queries, pageId, conditionsId, 2);
  if (!measurement) return null;
  const runs = await runsOf(queries, measurement.id);
  const middle = runs[measurement.medianRun];
  if (!middle) return null;
  const [page, stored, returning, history, kept, frames, stateIsLost] = await Promise.all([
    findPage(queries, pageId),
    findCapture(queries, measurement.captureId),
    returnVisitsOf(queries, measurement),
    historyOf(queries, pageId, conditionsId),
    keptMeasurements(queries, pageId, conditionsId),
    framesOf(queries, middle.id),
    isStateLost(queries, measurement.captureId),
  ]);
  const observations = stored?.capture.observations;
  return {
    measurement,
    runs: runs.map((run) => ({
      id: run.id,
      metrics: run.metrics,
      replayNotes: run.replayNotes.length,
      neverRested: run.neverRested,
      circumstances: run.circumstances,
      disagreements: run.disagreements,
    })),
    returning: returning && {
      spreads: returning.spreads,
      runs: returning.spreads[METRICS[0]!.key].runs.length,
    },
    previous: previous && {
      takenAt: previous.takenAt,
      spreads: previous.spreads,
      apart: yardsticksDiffer(previous.yardstick, measurement.yardstick),
    },
    headline: headlineOfSpreads(measurement.spreads),
    emptyPaint: emptyPaintOf(measurement),
    caveats: caveatsOf(measurement),
    history,
    kept,
    frames,
    windowMs: middle.windowMs,
    heat: middle.heat,
    moving: middle.moving,
    quality: qualityOf(measurement, runs),
    lcp: lcpOf(middle, observations),
    shifts: observations?.shifts ?? [],
    longTasks: middle.longTasks,
    fonts: observations?.fonts ?? [],
    notes: [...(stateIsLost ? [STATE_LOST] : []), ...notesOf(stored, runs)],
    field:
      page &&
      compareWithField(
        await fieldFiguresOf(queries, addressOf(page.url)),
        measurement.conditions.agent,
        measurement.spreads,
      ),
  };
}

function qualityOf(measurement: StoredMeasurement, runs: readonly StoredRun[]): string[] {
  const { quality, yardstick, conditions } = measurement;
  const said = [yardstickWords(conditions.cpuSlowdown, yardstick)];
  const dropped = quality.rejected.length;
  if (dropped)
    said.push(
      `${dropped} ${dropped === 1 ? 'run was' : 'runs were'} dropped and made again: ${[...new Set(quality.rejected)].join('; ')}.`,
    );
  else said.push('No run had to be dropped.');
  if (quality.tooBusy)
    said.push(
      'The machine was too busy to trust these figures: runs had to be kept although the rule rejects them. End other programs and measure again.',
    );
  if (Math.abs(quality.encodingDeviation) > 0.02)
    said.push(
      `A replayed body is ${Math.abs(Math.round(quality.encodingDeviation * 100))} % ${quality.encodingDeviation > 0 ? 'larger' : 'smaller'} on the wire than it was live.`,
    );
  const odd = [...new Set(runs.flatMap((run) => run.disagreements))];
  for (const one of odd) said.push(`To be checked in a run: ${one}.`);
  return said;
}

/** The parts of largest contentful paint: the server, finding what it shows, loading it, showing it. */
function lcpOf(run: StoredRun, observations: Observations | undefined): MeasureView['lcp'] {
  const paintedMs = run.metrics.largestContentfulPaintMs;
  if (paintedMs === null) return null;
  // The run's own is asked first: the observed load may have had another viewport, and a HAR has none.
  const url = run.lcpUrl === undefined ? (observations?.lcp?.url ?? null) : run.lcpUrl;
  const element = observations?.lcp?.element ?? run.lcpElement ?? 'unknown element';
  const first = run.metrics.timeToFirstByteMs ?? 0;
  const request = url ? run.requests.find((one) => one.url === url) : undefined;
  if (!request || request.endMs === null)
    return {
      element,
      url,
      parts: [
        { label: 'server and connection', ms: first },
        { label: 'until it was shown', ms: paintedMs - first },
      ],
    };
  const asked = Math.max(first, request.startMs);
  const loaded = Math.min(Math.max(asked, request.endMs), paintedMs);
  return {
    element,
    url,
    parts: [
      { label: 'server and connection', ms: first },
      { label: 'until it was asked for', ms: asked - first },
      { label: 'loading it', ms: loaded - asked },
      { label: 'until it was shown', ms: paintedMs - loaded },
    ],
  };
}

const STATE_LOST =
  'It was captured signed in, or after steps. What the browser held then was cleared, or is not here: runs and trials are replayed without it.';

function notesOf(stored: StoredCapture | null, runs: readonly StoredRun[]): string[] {
  const capture = stored?.capture;
  const notes = [...(capture?.notes ?? [])];
  if (capture?.seenOnce.length)
    notes.push(`Seen in one of the capture’s loads only: ${capture.seenOnce.join(', ')}`);
  if (capture?.acceptedCertificates.length)
    notes.push(
      `Certificates of their own making were accepted for ${capture.acceptedCertificates.join(', ')}.`,
    );
  notes.push(
    capture?.clock
      ? 'Scripts had the capture’s clock and a seeded chance, at capture and in every run.'
      : 'Scripts had the real clock and chance: addresses built from them may not match.',
  );
  const odd = runs.flatMap((run) =>
    run.replayNotes.map(
      (note) =>
        `${note.matched === 'loose' ? 'answered by the nearest match' : 'not in the capture'}: ${note.url}`,
    ),
  );
  return [...notes, ...new Set(odd)];
}
