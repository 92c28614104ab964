import type { ScriptElement, StyleElement } from '../html/assets.ts';
import type { ContentPolicy } from '../html/content-policy.ts';
import type { HtmlDocument } from '../html/document.ts';
import type { RequestTiming } from '../measure/run.ts';
import { partyOf, type Party } from '../path/party.ts';
import type { ScriptFacts } from '../scripts/analyse.ts';
import { inlineKey, type Match } from '../treat/plan.ts';
import type { CapturedPage } from './captured-page.ts';

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

/** All that treatments are decided on: the captured page, and what a run of it asked for. */
export interface PageAssets {
  captured: CapturedPage;
  documentUrl: string;
  document: HtmlDocument;
  scripts: PageScript[];
  styles: PageStyle[];
  requests: readonly RequestTiming[];
  /** What it says of styles and scripts that stand in the page itself. */
  policies: readonly ContentPolicy[];
}

/** A page's scripts with their facts, its stylesheets, and what a run asked for. @throws NoHtml */
export function readPageAssets(captured: CapturedPage, requests: readonly RequestTiming[]): PageAssets {
  const documentUrl = captured.url;
  const styles = captured.styles.map((element): PageStyle => ({
    element,
    match: { url: element.url ?? `inline style, line ${element.element.line}` },
    party: element.url === null ? 'first' : partyOf(element.url, documentUrl),
  }));
  return {
    captured,
    documentUrl,
    document: captured.document,
    scripts: captured.scripts.map((element) => pageScript(captured, element, requests)),
    styles,
    requests,
    policies: captured.policies,
  };
}

function pageScript(
  captured: CapturedPage,
  element: ScriptElement,
  requests: readonly RequestTiming[],
): PageScript {
  const { url, module } = element;
  const { line, text } = element.element;
  return {
    element,
    match: url === null ? { inline: inlineKey(text) } : { url },
    name: url === null ? `inline script, line ${line}` : url,
    line,
    party: url === null ? 'first' : partyOf(url, captured.url),
    facts: captured.factsOf(element),
    inserts:
      url === null
        ? requests.flatMap((one) =>
            one.kind === 'script' &&
            isAskedBy(one, captured.url, element) &&
            partyOf(one.url, captured.url) === 'third'
              ? [one.url]
              : [],
          )
        : [],
    blocking: !module && (url === null || (!element.async && !element.defer)),
  };
}

/** Whether a run asked for something because of an inline script: by the lines of the page that it stands on. */
export function isAskedBy(
  { discovery }: RequestTiming,
  documentUrl: string,
  { element }: Pick<ScriptElement | StyleElement, 'element'>,
): boolean {
  const lastLine = element.line + element.text.split('\n').length - 1;
  return (
    discovery.by === 'script' &&
    discovery.url === documentUrl &&
    discovery.line !== null &&
    discovery.line >= element.line &&
    discovery.line <= lastLine
  );
}
