import { LRUCache } from 'lru-cache';
import { minify_sync } from 'terser';

/** Texts that were minified, with what came of it: the same script is asked about many times. */
const known = new LRUCache<string, { text: string | null }>({
  maxSize: 20_000_000,
  sizeCalculation: ({ text }, source) => source.length + (text?.length ?? 0) + 1,
});

/** Larger ones are read for seconds. */
const MOST_CHARACTERS = 2_000_000;

/** Lines as long as this are those of a file that is minified. */
const LONG_LINE = 400;

/**
 * A classic script without its comments and white space, licences kept. No name is another, and nothing is done
 * otherwise: functions that are asked for their text give the same, but for white space.
 *
 * @returns null where it cannot be read, or is minified already
 */
export function minifiedScript(source: string): string | null {
  if (source.length > MOST_CHARACTERS || source.length / lineCount(source) > LONG_LINE) return null;
  let found = known.get(source);
  if (!found) known.set(source, (found = { text: minified(source) }));
  return found.text;
}

function minified(source: string): string | null {
  if (keepsText(source)) return null;
  try {
    const { code } = minify_sync(source, {
      compress: false,
      mangle: false,
      format: { comments: /^!|@(?:license|preserve|copyright)/i, ascii_only: false },
    });
    return code ?? null;
  } catch {
    return null;
  }
}

/** Whether a block holds nothing but a comment of several lines: some functions keep a text there, and read it. */
function keepsText(source: string): boolean {
  const opening = /\{\s*\/\*/g;
  while (opening.test(source)) {
    const end = source.indexOf('*/', opening.lastIndex);
    if (end < 0) return false;
    const isLong = source.slice(opening.lastIndex, end).includes('\n');
    if (isLong && /^\s*;?\s*\}/.test(source.slice(end + 2, end + 200))) return true;
    opening.lastIndex = end + 2;
  }
  return false;
}

function lineCount(text: string): number {
  let lines = 1;
  for (let at = text.indexOf('\n'); at >= 0; at = text.indexOf('\n', at + 1)) lines++;
  return lines;
}
