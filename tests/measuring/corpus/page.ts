/** A small page that is easy to break, and can say itself whether it still works. */
export interface CorpusPage {
  name: string;
  /** Head and body; `data-says` of the body is an expression that gives its sentence. */
  html: string;
  files?: Record<string, string>;
  policies?: string[];
  type?: string;
  /** No fold CSS was made for it. */
  noFold?: true;
  /** What it says as authored: a corpus page that says something else is made wrong. */
  says: string;
  /** The strongest legal treatment of an asset, by its address or how its text begins ("inline: var …"), as its maker knows it; of one that no plan may touch, as-authored. */
  strongest?: Record<string, string>;
  /** What its developer chooses, though nobody recommends it: each asset with its treatment, and what goes with it. */
  chosen?: Record<string, { treatment: string; together: string[] }>;
}

/** A page around a body whose sentence is an expression. */
export function saying(expression: string, head: string, body: string): string {
  const escaped = expression.replace(/&/g, '&amp;').replace(/"/g, '&quot;');
  return `<!DOCTYPE html><html><head><meta charset="utf-8"><title>Quay</title>${head}</head><body data-says="${escaped}">${body}</body></html>`;
}
