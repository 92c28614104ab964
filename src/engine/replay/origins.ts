/** Bodies in which addresses stand as text. */
export function isText(contentType: string): boolean {
  return /html|css|javascript|json|xml/.test(contentType);
}

/** What an address without a scheme stands behind: it would be told from any other "//" by nothing. */
const BEFORE_ADDRESSES = ['"', "'", '`', '(', '='];

/** Writes origins anew wherever they stand in a text: plain, escaped as in JSON, or without their scheme. */
export function replaceOrigins(text: string, places: readonly [string, string][]): string {
  let out = text;
  // One may begin as another does: "https://quay.test" and "https://quay.test:8443".
  for (const [from, to] of [...places].sort(([a], [b]) => b.length - a.length)) {
    out = out.replaceAll(from, to).replaceAll(from.replaceAll('/', '\\/'), to.replaceAll('/', '\\/'));
    const bare = from.replace(/^https?:/, '');
    for (const mark of BEFORE_ADDRESSES) out = out.replaceAll(mark + bare, mark + to);
  }
  return out;
}
