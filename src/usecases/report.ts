import { describeConditions } from '../core/measure/conditions.ts';
import { METRICS, type MetricInfo } from '../core/measure/metrics.ts';
import { bytes, count } from '../core/path/words.ts';
import { reportHtml } from '../core/report/report-html.ts';
import type { Queries } from '../store/database.ts';
import { frameImage } from '../store/measurements.ts';
import { findPage, listSites } from '../store/sites.ts';
import { mapView } from './map-view.ts';
import { measureView } from './measure-view.ts';

const MOST_FRAMES = 8;

/** A page's map, figures, frames and footnotes in one file to share; null when it was not measured. */
export async function reportOf(
  queries: Queries,
  pageId: number,
  conditionsId: string,
): Promise<string | null> {
  const [page, measured, map] = await Promise.all([
    findPage(queries, pageId),
    measureView(queries, pageId, conditionsId),
    mapView(queries, pageId, conditionsId),
  ]);
  if (!page || !measured || !map) return null;
  const site = (await listSites(queries)).find((one) => one.id === page.siteId);
  const { measurement } = measured;
  const every = Math.max(1, Math.ceil(map.frames.length / MOST_FRAMES));
  const shown = map.frames.filter((_frame, index) => index % every === 0 || index === map.frames.length - 1);
  const frames = await Promise.all(
    shown.map(async (frame) => {
      const image = await frameImage(queries, frame.id);
      return {
        ...frame,
        picture: image ? `data:image/jpeg;base64,${Buffer.from(image).toString('base64')}` : '',
      };
    }),
  );
  return reportHtml({
    site: site?.name ?? '',
    page: page.name,
    url: page.url,
    conditions: `${measurement.conditions.name}: ${describeConditions(measurement.conditions)}`,
    takenAt: measurement.takenAt,
    sentence: [map.sentence, map.emptyPaint].filter(Boolean).join(' '),
    paintMs: map.target?.atMs ?? null,
    bill: map.paintBill,
    floor: map.floor,
    metrics: METRICS.map((info) => {
      const spread = measurement.spreads[info.key];
      return {
        label: info.label,
        median: figure(info, spread.median),
        spread: `${figure(info, spread.min)}–${figure(info, spread.max)}`,
      };
    }),
    assets: map.assets,
    findings: map.findings,
    footnotes: map.footnotes.map(({ urls, ...note }) => ({ ...note, cites: urls })),
    frames,
    quality: [...map.caveats, ...measured.quality],
  });
}

function figure({ unit }: MetricInfo, value: number | null): string {
  if (value === null) return '–';
  if (unit === 'bytes') return bytes(value);
  if (unit === 'score') return value.toFixed(3);
  return unit === 'ms' ? `${count(value)} ms` : count(value);
}
