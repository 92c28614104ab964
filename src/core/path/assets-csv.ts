import type { MapAsset } from './map.ts';

const COLUMNS = [
  'url',
  'kind',
  'party',
  'host',
  'wireBytes',
  'found',
  'renderBlocking',
  'hold',
  'waitedMs',
  'gainMs',
  'startMs',
  'firstByteMs',
  'endMs',
  'evidence',
] as const;

/** The asset table as CSV (RFC 4180), its columns named as in the JSON. */
export function assetsCsv(assets: readonly MapAsset[]): string {
  const rows = assets.map((asset) => COLUMNS.map((column) => field(asset[column])).join(','));
  return `${[COLUMNS.join(','), ...rows].join('\r\n')}\r\n`;
}

function field(value: string | number | boolean | null): string {
  if (value === null) return '';
  const text = typeof value === 'number' ? String(Math.round(value * 10) / 10) : String(value);
  // A program that opens tables takes what begins so for a formula.
  const safe = /^[=+@-]/.test(text) && typeof value === 'string' ? `'${text}` : text;
  return /[",\r\n]/.test(safe) ? `"${safe.replaceAll('"', '""')}"` : safe;
}
