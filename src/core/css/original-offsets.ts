/**
 * Where an offset of a text that was read as CSS (CSS Syntax 3, section 3.3: CRLF, CR and FF become one LF) lies in
 * the text as it was written.
 *
 * @returns a function from offsets of the read text to offsets of the written one
 */
export function originalOffsets(written: string): (offset: number) => number {
  const longer: number[] = [];
  for (let at = written.indexOf('\r\n'); at >= 0; at = written.indexOf('\r\n', at + 2))
    longer.push(at - longer.length);
  if (longer.length === 0) return (offset) => offset;
  return (offset) => {
    let [low, high] = [0, longer.length];
    while (low < high) {
      const middle = (low + high) >> 1;
      if (longer[middle]! < offset) low = middle + 1;
      else high = middle;
    }
    return offset + low;
  };
}
