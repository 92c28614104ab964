/**
 * The encoding of a page (HTML, "determining the character encoding"): a byte-order mark, what the header says,
 * a meta in the first 1,024 bytes. Where nothing is said, UTF-8 if it can be that, and else what browsers take.
 *
 * @param contentType the header as it came, '' for none
 * @returns the name that a TextDecoder gives it
 */
export function encodingOf(bytes: Uint8Array, contentType: string): string {
  if (bytes[0] === 0xef && bytes[1] === 0xbb && bytes[2] === 0xbf) return 'utf-8';
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return 'utf-16be';
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return 'utf-16le';
  const head = new TextDecoder('latin1').decode(bytes.subarray(0, 1_024));
  const said = known(charsetIn(contentType)) ?? known(charsetIn(/<meta[^>]+charset[^>]*/i.exec(head)?.[0]));
  return said ?? (isUtf8(bytes) ? 'utf-8' : 'windows-1252');
}

function charsetIn(text: string | undefined): string | undefined {
  return /charset\s*=\s*["']?([\w:.-]+)/i.exec(text ?? '')?.[1];
}

function known(label: string | undefined): string | null {
  if (label === undefined) return null;
  try {
    return new TextDecoder(label).encoding;
  } catch {
    return null;
  }
}

function isUtf8(bytes: Uint8Array): boolean {
  try {
    new TextDecoder('utf-8', { fatal: true }).decode(bytes);
    return true;
  } catch {
    return false;
  }
}
