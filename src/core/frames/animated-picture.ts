/** Whether a picture file moves by itself: GIF, APNG and WebP by their own blocks, AVIF by its brand, SVG by its elements. */
export function isAnimatedPicture(bytes: Uint8Array): boolean {
  const ascii = (from: number, to: number) => String.fromCharCode(...bytes.subarray(from, to));
  if (ascii(0, 3) === 'GIF') return gifFrames(bytes) > 1;
  // PNG 3, section 11.3.6.1: acTL comes before the first IDAT.
  if (ascii(1, 4) === 'PNG') return pngHas(bytes, 'acTL');
  // WebP container, "Extended file format": the second flag bit of VP8X.
  if (ascii(0, 4) === 'RIFF' && ascii(8, 12) === 'WEBP')
    return ascii(12, 16) === 'VP8X' && ((bytes[20] ?? 0) & 2) !== 0;
  if (ascii(4, 8) === 'ftyp') return ascii(8, 12) === 'avis';
  const head = new TextDecoder('latin1').decode(bytes.subarray(0, 200_000));
  return /<svg[\s>]/i.test(head) && /<(animate|animateTransform|animateMotion|set)[\s>]/i.test(head);
}

/** GIF89a, sections 18 to 20: counts image descriptors, stepping over blocks. */
function gifFrames(bytes: Uint8Array): number {
  const tableOf = (flags: number) => (flags & 0x80 ? 3 * 2 ** ((flags & 7) + 1) : 0);
  let at = 13 + tableOf(bytes[10] ?? 0);
  let frames = 0;
  const skipBlocks = () => {
    while (at < bytes.length && bytes[at] !== 0) at += bytes[at]! + 1;
    at++;
  };
  while (at < bytes.length && frames < 2) {
    if (bytes[at] === 0x21) {
      at += 2;
      skipBlocks();
    } else if (bytes[at] === 0x2c) {
      frames++;
      at += 10 + tableOf(bytes[at + 9] ?? 0) + 1;
      skipBlocks();
    } else break;
  }
  return frames;
}

function pngHas(bytes: Uint8Array, wanted: string): boolean {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  for (let at = 8; at + 8 <= bytes.length;) {
    const name = String.fromCharCode(...bytes.subarray(at + 4, at + 8));
    if (name === wanted) return true;
    if (name === 'IDAT') return false;
    at += 12 + view.getUint32(at);
  }
  return false;
}
