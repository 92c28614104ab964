import { readFace } from '../fonts/faces.ts';
import { originalOffsets } from './original-offsets.ts';
import { parseSheet } from './parse-sheet.ts';
import { editedText, type TextEdit } from './text-edits.ts';

/** One face whose `font-display` was set: its rule as it was, and as it is. */
export interface SwappedFace {
  family: string;
  before: string;
  after: string;
}

/**
 * Sets `font-display: swap` in the faces of the families; all else of the text stays character for character. The
 * sheet is read as a browser reads it, so errors elsewhere in it stand in nobody's way.
 *
 * @param families lower case
 */
export function swapFaces(css: string, families: ReadonlySet<string>): { css: string; faces: SwappedFace[] } {
  // Most sheets have none of them, and reading one takes as long as all else that is done to it.
  if (families.size === 0) return { css, faces: [] };
  const original = originalOffsets(css);
  const edits: TextEdit[] = [];
  const spans: { family: string; start: number; end: number }[] = [];
  parseSheet(css, '').walkAtRules(/^font-face$/i, (rule) => {
    const { family } = readFace(rule);
    if (!families.has(family) || !rule.source?.start || !rule.source.end) return;
    const [start, end] = [original(rule.source.start.offset), original(rule.source.end.offset)];
    const brace = css.indexOf('{', start) + 1;
    if (brace === 0 || brace > end) return;
    spans.push({ family, start, end });
    edits.push({ start: brace, end: brace, text: 'font-display:swap;' });
    rule.walkDecls(/^font-display$/i, ({ source }) => {
      if (!source?.start || !source.end) return;
      const from = original(source.start.offset);
      const to = original(source.end.offset);
      edits.push({ start: from, end: css[to] === ';' ? to + 1 : to, text: '' });
    });
  });
  edits.sort((a, b) => a.start - b.start);
  const within = (from: number, to: number) => edits.filter((one) => one.start >= from && one.end <= to);
  return {
    css: editedText(css, edits),
    faces: spans.map(({ family, start, end }) => ({
      family,
      before: css.slice(start, end),
      after: editedText(css, within(start, end), start, end),
    })),
  };
}
