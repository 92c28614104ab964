import type { MetricInfo } from '@/core/measure/metrics';
import { bytes, count } from '@/core/path/words';

/** A metric's value as it is shown; a dash for none. */
export function figure(info: Pick<MetricInfo, 'unit'>, value: number | null | undefined): string {
  if (value === null || value === undefined) return '–';
  if (info.unit === 'bytes') return bytes(value);
  if (info.unit === 'score') return value.toFixed(3);
  return count(value);
}

/** A difference with its sign: "−1,650", "+14"; "0" for none. */
export function signed(info: Pick<MetricInfo, 'unit'>, value: number | null): string {
  if (value === null) return '–';
  const text = figure(info, Math.abs(value));
  if (/^[0.,]+( \w+)?$/.test(text)) return '0';
  return (value < 0 ? '−' : '+') + text;
}

/** "24 Nov, 05:31" in the reader's own time. */
export function when(iso: string): string {
  return new Date(iso).toLocaleString('en-GB', {
    day: 'numeric',
    month: 'short',
    hour: '2-digit',
    minute: '2-digit',
  });
}

/** File kinds are letter marks, never colours. */
export const KIND_MARK: Record<string, string> = {
  document: 'HTML',
  script: 'JS',
  stylesheet: 'CSS',
  font: 'FONT',
  'font-file': 'CUT',
  image: 'IMG',
  'image-file': 'FILE',
  embed: 'EMB',
  data: 'DATA',
  beacon: 'SENT',
  preflight: 'ASK',
  other: 'ETC',
  host: 'HOST',
  next: 'NEXT',
};
