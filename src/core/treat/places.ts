import type { PageScript } from '../page/page-assets.ts';
import type { Finding } from '../scripts/findings.ts';
import type { Place, Refusal } from './refusal.ts';

/** The first finding of a sort in a script. */
export function findingIn(script: PageScript, ...what: Finding['what'][]): Finding | undefined {
  return script.facts.findings.find((one) => what.includes(one.what));
}

/** Where a finding stands, as a person looks for it. */
export function placeOf(script: PageScript, found: Pick<Finding, 'line' | 'excerpt'>): Place {
  const inline = script.element.url === null;
  return {
    file: inline ? null : fileName(script),
    line: inline ? script.line + found.line - 1 : found.line,
    excerpt: found.excerpt,
  };
}

/** What stands at a line of a script's text. */
export function excerptAt(script: PageScript, line: number): string {
  if (script.element.url !== null) return '';
  return (script.element.element.text.split('\n')[line - 1] ?? '').trim().slice(0, 110);
}

/** "lib.js", or "inline script, line 40". */
export function fileName(script: PageScript): string {
  if (script.element.url === null) return script.name;
  return script.name.split('/').at(-1)?.split('?')[0] || script.name;
}

/** Why a script has to run where it stands; null where it does not. */
export function tiedToPlace(script: PageScript): Refusal | null {
  const { unreadable } = script.facts;
  if (unreadable) return { code: 'unreadable', why: unreadable };
  const write = findingIn(script, 'document.write');
  if (write) return { code: 'document-write', place: placeOf(script, write) };
  const last = findingIn(script, 'last-script');
  if (last) return { code: 'last-script', place: placeOf(script, last) };
  const asks = findingIn(script, 'ready-state');
  if (asks) return { code: 'asks-how-far', place: placeOf(script, asks) };
  const interactive = findingIn(script, 'interactive-listener');
  return interactive ? { code: 'event-is-over', place: placeOf(script, interactive), certain: true } : null;
}
