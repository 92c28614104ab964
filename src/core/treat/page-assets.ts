import { scriptsOf, stylesOf, type ScriptElement, type StyleElement } from '../html/assets.ts';
import { policiesOf, type ContentPolicy } from '../html/content-policy.ts';
import { readHtml, type HtmlDocument } from '../html/document.ts';
import type { RequestTiming } from '../measure/run.ts';
import { partyOf, type Party } from '../path/party.ts';
import { analyseScript, type ScriptFacts } from '../scripts/analyse.ts';
import { inlineKey, type Match } from './plan.ts';

/** A script of the page with what is known of it. */
export interface PageScript {
  element: ScriptElement;
  match: Match;
  /** "lib.js", or "inline script, line 40". */
  name: string;
  line: number;
  party: Party;
  facts: ScriptFacts;
  /** Addresses of third-party scripts that this inline script put into the page, in the run. */
  inserts: string[];
  /** Parser-blocking as authored: a classic script with neither async nor defer. */
  blocking: boolean;
}

export interface PageStyle {
  element: StyleElement;
  match: Match;
  party: Party;
}

/** All that treatments are decided on. */
export interface PageAssets {
  documentUrl: string;
  document: HtmlDocument;
  scripts: PageScript[];
  styles: PageStyle[];
  requests: readonly RequestTiming[];
  /** What it says of styles and scripts that stand in the page itself. */
  policies: readonly ContentPolicy[];
}

/** Text of a captured asset by address, decoded; null when the capture does not hold it. */
export type TextSource = (url: string) => string | null;

/** What the page's HTML came with that says how it is to be read. */
export interface PageHeaders {
  contentType: string;
  /** Values of its Content-Security-Policy headers. */
  policies: readonly string[];
}

const NO_HEADERS: PageHeaders = { contentType: '', policies: [] };

/** Reads a page: its scripts with their facts, its stylesheets, and what the run asked for. */
export function readPageAssets(
  html: Uint8Array,
  documentUrl: string,
  text: TextSource,
  requests: readonly RequestTiming[],
  headers = NO_HEADERS,
): PageAssets {
  const document = readHtml(html, headers.contentType);
  const scripts = scriptsOf(document, documentUrl).map((element): PageScript => {
    const source = element.url === null ? element.element.text : text(element.url);
    const line = element.element.line;
    const lastLine = line + element.element.text.split('\n').length - 1;
    return {
      element,
      match: element.url === null ? { inline: inlineKey(element.element.text) } : { url: element.url },
      name: element.url === null ? `inline script, line ${line}` : element.url,
      line,
      party: element.url === null ? 'first' : partyOf(element.url, documentUrl),
      facts: analyseScript(source, element.module ? 'module' : 'script'),
      inserts:
        element.url === null
          ? requests.flatMap((r) =>
              r.kind === 'script' &&
              r.discovery.by === 'script' &&
              r.discovery.url === documentUrl &&
              r.discovery.line !== null &&
              r.discovery.line >= line &&
              r.discovery.line <= lastLine &&
              partyOf(r.url, documentUrl) === 'third'
                ? [r.url]
                : [],
            )
          : [],
      blocking: !element.module && (element.url === null || (!element.async && !element.defer)),
    };
  });
  const styles = stylesOf(document, documentUrl).map((element): PageStyle => ({
    element,
    match: { url: element.url ?? `inline style, line ${element.element.line}` },
    party: element.url === null ? 'first' : partyOf(element.url, documentUrl),
  }));
  const policies = policiesOf(headers.policies, document);
  return { documentUrl, document, scripts, styles, requests, policies };
}
