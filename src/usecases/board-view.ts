import type { Conditions } from '../core/measure/conditions.ts';
import { headlineOfSpreads, type HeadlineKey } from '../core/measure/headline.ts';
import type { PaintHeld } from '../core/path/held.ts';
import type { TrialVerdict } from '../core/trial/verdict.ts';
import { conditionsById } from '../store/conditions.ts';
import type { Queries } from '../store/database.ts';
import { secondsTaken } from '../store/jobs.ts';
import { latestMeasurements, pagesInList } from '../store/measurements.ts';
import { latestTrials, pagesWithFold, type TrialOnBoard } from '../store/proofs.ts';
import { listPages, listSites, type Page, type Site } from '../store/sites.ts';
import { caveatsOf } from './caveats.ts';
import { whyTrialStaleOnBoard } from './staleness.ts';

/** One row of the page board. */
export interface BoardRow extends Page {
  /** The headline of the newest measurement: first paint, or first contentful paint where that shows nothing. */
  paintMs: number | null;
  headline: HeadlineKey;
  speedIndexMs: number | null;
  largestContentfulPaintMs: number | null;
  wireBytes: number | null;
  measuredAt: string | null;
  /** Its last frame; null where it was not measured. */
  pictureId: number | null;
  /** What its paint waited for; null where that is not known. */
  held: PaintHeld | null;
  /** Fold CSS was made for it. */
  hasFold: boolean;
  /** What is to be known with its figures. */
  caveats: string[];
  tooBusy: boolean;
  /** Its newest trial; both figures are of the same runs. */
  trial: {
    /** Why it says nothing of what there is now; none while it holds. */
    stale: string[];
    verdict: TrialVerdict;
    headline: HeadlineKey;
    asIsMs: number | null;
    treatedMs: number | null;
    /** Median of the pairs' differences, ms; below 0 is earlier. */
    differenceMs: number;
    /** What got worse beyond its noise, each in words. */
    worse: string[];
  } | null;
}

export interface BoardView {
  /** How long one page took of late, s; null where none was done under the conditions. */
  secondsEach: { measure: number | null; fold: number | null };
  sites: (Site & { pages: BoardRow[] })[];
}

export async function boardView(queries: Queries, conditionsId: string): Promise<BoardView> {
  const [conditions, sites, pages, measurements, trials, taken, listed, withFold] = await Promise.all([
    conditionsById(queries, conditionsId),
    listSites(queries),
    listPages(queries),
    latestMeasurements(queries, conditionsId),
    latestTrials(queries, conditionsId),
    secondsTaken(queries, conditionsId),
    pagesInList(queries, conditionsId),
    pagesWithFold(queries),
  ]);
  const measured = new Map(measurements.map((one) => [one.pageId, one]));
  const shown = new Map(listed.map((one) => [one.pageId, one]));
  const tried = new Map(trials.map((one) => [one.pageId, one]));
  const rows = pages.map((page): BoardRow => {
    const measurement = measured.get(page.id);
    const trial = tried.get(page.id);
    const headline = measurement ? headlineOfSpreads(measurement.spreads) : 'firstPaintMs';
    return {
      ...page,
      headline,
      paintMs: measurement?.spreads[headline].median ?? null,
      speedIndexMs: measurement?.spreads.speedIndexMs.median ?? null,
      largestContentfulPaintMs: measurement?.spreads.largestContentfulPaintMs.median ?? null,
      wireBytes: measurement?.spreads.wireBytes.median ?? null,
      pictureId: shown.get(page.id)?.pictureId ?? null,
      held: shown.get(page.id)?.held ?? null,
      hasFold: withFold.has(page.id),
      caveats: measurement ? caveatsOf(measurement) : [],
      tooBusy: measurement?.quality.tooBusy ?? false,
      measuredAt: measurement?.takenAt ?? null,
      trial: trial && conditions ? trialOnBoard(trial, conditions) : null,
    };
  });
  return {
    secondsEach: { measure: taken.get('measure') ?? null, fold: taken.get('fold') ?? null },
    sites: sites.map((site) => ({ ...site, pages: rows.filter((row) => row.siteId === site.id) })),
  };
}

/** A trial as the board tells it: whether it still holds is told without reading the page. */
function trialOnBoard(trial: TrialOnBoard, conditions: Conditions): BoardRow['trial'] {
  const { arms, result } = trial.data;
  const { headline, verdict } = result;
  const of = (index: number) => arms[index]?.spreads[headline].median ?? null;
  return {
    stale: whyTrialStaleOnBoard(trial, conditions),
    verdict,
    headline,
    asIsMs: of(0),
    treatedMs: of(1),
    differenceMs: result.paint.differenceMs,
    worse: result.worse.map(({ words }) => words),
  };
}
