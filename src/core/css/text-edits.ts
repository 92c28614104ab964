/** What stands in the place of the characters [start, end) of a text. */
export interface TextEdit {
  start: number;
  end: number;
  text: string;
}

/**
 * A text, or a stretch of it, with edits made: all else stays character for character.
 *
 * @param edits those of that stretch, in their order
 */
export function editedText(
  text: string,
  edits: readonly TextEdit[],
  from = 0,
  to: number = text.length,
): string {
  let [out, at] = ['', from];
  for (const edit of edits) {
    out += text.slice(at, edit.start) + edit.text;
    at = edit.end;
  }
  return out + text.slice(at, to);
}
