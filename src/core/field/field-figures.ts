import Papa from 'papaparse';
import { METRICS, type MetricKey } from '../measure/metrics.ts';

/** Device classes that visitors' figures are told apart by. */
export type FieldDevice = 'phone' | 'desktop' | 'all';

/** One percentile of one metric over a page's real visits. */
export interface FieldFigure {
  url: string;
  metric: MetricKey;
  /** Above 0 and below 100: this share of the visits had the value or less. */
  percentile: number;
  /** Ms for times; layout shift as its score. */
  value: number;
  device: FieldDevice;
  /** When the visits were, as the file says it: "October 2026". */
  period: string;
  /** How many visits stand behind it; null where the file does not say. */
  visits: number | null;
}

export interface FieldFile {
  figures: FieldFigure[];
  /** Lines that were left out, each with its reason. */
  leftOut: string[];
}

/** The columns of a file of visitors' figures; device, period and visits may be missing. */
export const FIELD_COLUMNS = ['url', 'metric', 'percentile', 'value', 'device', 'period', 'visits'] as const;

/** Metrics that visitors' browsers report; requests and bytes they do not. */
const FIELD_METRICS = METRICS.filter((info) => info.unit === 'ms' || info.unit === 'score');

/**
 * Reads visitors' percentiles from CSV with a heading line, or from JSON: a list of objects with the same keys.
 *
 * @throws Error in a sentence for the user when nothing of it can be read
 */
export function readFieldFile(text: string): FieldFile {
  const rows = /^\s*[[{]/.test(text) ? jsonRows(text) : csvRows(text);
  const file: FieldFile = { figures: [], leftOut: [] };
  for (const [index, row] of rows.entries()) {
    const read = readRow(row);
    if (typeof read === 'string') file.leftOut.push(`Figure ${index + 1}: ${read}`);
    else file.figures.push(read);
  }
  if (file.figures.length === 0)
    throw new Error(
      rows.length === 0
        ? 'The file holds no figures.'
        : `None of its ${rows.length} figures could be read. ${file.leftOut[0]} Nothing stored was changed.`,
    );
  return file;
}

type Fields = Readonly<Record<string, unknown>>;

function csvRows(text: string): Fields[] {
  const { data, meta } = Papa.parse<Record<string, string>>(text.trim(), {
    header: true,
    skipEmptyLines: true,
    transformHeader: (name) => name.trim().toLowerCase(),
  });
  const missing = ['url', 'metric', 'percentile', 'value'].filter((name) => !meta.fields?.includes(name));
  if (missing.length)
    throw new Error(
      `The file’s first line does not name the ${missing.length === 1 ? 'column' : 'columns'} ${missing.join(', ')}. It is to read: ${FIELD_COLUMNS.join(',')}. Nothing stored was changed.`,
    );
  return data;
}

function jsonRows(text: string): Fields[] {
  let data: unknown;
  try {
    data = JSON.parse(text);
  } catch (error) {
    throw new Error(
      `The file begins like JSON but is none: ${error instanceof Error ? error.message : String(error)}. Nothing stored was changed.`,
      { cause: error },
    );
  }
  if (!Array.isArray(data))
    throw new Error(
      `The JSON is not a list of figures, each with ${FIELD_COLUMNS.join(', ')}. Nothing stored was changed.`,
    );
  return data.map((row: unknown) => (typeof row === 'object' && row !== null ? (row as Fields) : {}));
}

/** A row's figure, or why it is left out. */
function readRow(row: Fields): FieldFigure | string {
  const said = (name: string) => {
    const value = row[name];
    return typeof value === 'string' ? value.trim() : typeof value === 'number' ? String(value) : '';
  };
  const numberOf = (name: string) => (said(name) === '' ? NaN : Number(said(name)));
  if (!URL.canParse(said('url')) || !/^https?:/i.test(said('url')))
    return `“${said('url')}” is not a full address.`;
  const info = FIELD_METRICS.find((one) => one.label.toLowerCase() === said('metric').toLowerCase());
  if (!info)
    return `“${said('metric')}” is none of the metrics: ${FIELD_METRICS.map((one) => one.label.toLowerCase()).join(', ')}.`;
  const percentile = numberOf('percentile');
  if (!(percentile > 0 && percentile < 100))
    return `“${said('percentile')}” is no percentile: it lies above 0 and below 100.`;
  const value = numberOf('value');
  if (!(value >= 0 && value < 1e7)) return `“${said('value')}” is no value of a metric.`;
  const device = said('device').toLowerCase() || 'all';
  if (device !== 'phone' && device !== 'desktop' && device !== 'all')
    return `“${said('device')}” is no device: phone, desktop or all.`;
  const visits = numberOf('visits');
  return {
    url: addressOf(said('url')),
    metric: info.key,
    percentile,
    value,
    device,
    period: said('period'),
    visits: Number.isInteger(visits) && visits >= 0 ? visits : null,
  };
}

/** A page's address as figures are kept under: without what comes after “#”. */
export function addressOf(url: string): string {
  const address = new URL(url);
  address.hash = '';
  return address.href;
}
