import { attributeValue } from '../../core/html/markup.ts';

/** What stands over a page that is looked at by hand. */
export interface ShellWords {
  /** What it is: "Home, treated". */
  title: string;
  /** Where it comes from. */
  about: string;
}

/** What clicking through a page needs: its scripts, forms and messages, and storage of an origin of its own. It leads nowhere else and opens no windows. */
const SANDBOX = 'allow-scripts allow-same-origin allow-forms allow-modals';

/** What a captured page may reach (CSP 3): its own hosts as they are served here. @param ours their addresses, as a pattern */
export function pagePolicy(ours: string): string {
  const own = `'self' ${ours}`;
  return [
    `sandbox ${SANDBOX}`,
    `default-src ${own} data: blob: 'unsafe-inline' 'unsafe-eval'`,
    `base-uri ${own}`,
    `form-action ${own}`,
    `frame-ancestors ${own}`,
    "object-src 'none'",
  ].join('; ');
}

/** What our document around it may: show those hosts in a frame, which then go nowhere else in it. */
export function shellPolicy(ours: string): string {
  return `default-src 'none'; style-src 'unsafe-inline'; frame-src ${ours}; frame-ancestors 'none'; base-uri 'none'; form-action 'none'`;
}

/** Our document around a page: a line that says what it is, and the page in a frame. */
export function shellDocument(page: string, { title, about }: ShellWords): string {
  return `<!DOCTYPE html><html lang="en"><meta charset="utf-8"><meta name="viewport" content="width=device-width">
<title>${attributeValue(title)}</title>
<style>
html, body { height: 100%; margin: 0 }
body { display: flex; flex-direction: column; font: 14px/1.4 system-ui, sans-serif; color: #1e2a32; background: #f8f5ef }
p { margin: 0; padding: 7px 12px; border-bottom: 1px solid #dcd6c8 }
b { margin-right: 10px }
iframe { flex: 1; width: 100%; border: 0; background: #fff }
</style>
<p><b>${attributeValue(title)}</b>${attributeValue(about)}</p>
<iframe title="${attributeValue(title)}" sandbox="${SANDBOX}" src="${attributeValue(page)}"></iframe></html>
`;
}
