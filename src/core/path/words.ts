import type { Discovery } from '../measure/discovery.ts';
import type { PaintTarget } from './graph.ts';
import { fileNameOf } from './names.ts';

/** What a paint is called in a sentence. */
export function paintName(target: PaintTarget | null): string {
  return target?.kind === 'fold' ? 'the fold' : (target?.kind ?? 'first paint');
}

/** How an asset was found, in words: "in the HTML, line 12". */
export function discoveryWords(discovery: Discovery): string {
  switch (discovery.by) {
    case 'navigation':
      return 'by the address itself';
    case 'parser':
      return discovery.line === null ? 'in the HTML' : `in the HTML, line ${discovery.line}`;
    case 'stylesheet':
      return `by ${fileNameOf(discovery.url)}${discovery.line === null ? '' : `, line ${discovery.line}`}`;
    case 'script':
      return `by script ${fileNameOf(discovery.url)}${discovery.line === null ? '' : `, line ${discovery.line}`}`;
    case 'preload':
      return 'by a preload';
    case 'other':
      return 'by the browser itself';
  }
}

/** With a large first letter, for the beginning of a sentence. */
export function capital(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1);
}

/** "1,234": whole numbers as they are written here. */
export function count(value: number): string {
  return Math.round(value).toLocaleString('en-GB').replace('-', '−');
}

/** "1,234 ms". */
export function ms(value: number): string {
  return `${count(value)} ms`;
}

/** "186 KB", "1.42 MB", "812 B"; a kilobyte is 1,000 bytes. */
export function bytes(value: number): string {
  if (value < 1_000) return `${Math.round(value)} B`;
  if (value < 10_000) return `${(value / 1_000).toFixed(1)} KB`;
  if (value < 1_000_000) return `${Math.round(value / 1_000)} KB`;
  return `${(value / 1_000_000).toFixed(2)} MB`;
}
