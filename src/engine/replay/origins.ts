/** Bodies in which addresses stand as text. */
export function isText(contentType: string): boolean {
  return /html|css|javascript|json|xml/.test(contentType);
}

/** Writes origins anew wherever they stand in a text: plain, escaped as in JSON, or without their scheme. */
export function replaceOrigins(text: string, places: readonly [string, string][]): string {
  let out = text;
  for (const [from, to] of places) {
    out = out.replaceAll(from, to).replaceAll(from.replaceAll('/', '\\/'), to.replaceAll('/', '\\/'));
    out = out.replaceAll(`"${from.replace(/^https?:/, '')}`, `"${to}`);
  }
  return out;
}
