import { encodingOf } from '../html/encoding.ts';
import { readHtml, structureOf, type HtmlDocument, type HtmlElement } from '../html/document.ts';
import { policiesOf, type ContentPolicy } from '../html/content-policy.ts';
import { baseUrl, scriptsOf, stylesOf, type ScriptElement, type StyleElement } from '../html/assets.ts';
import type { Root } from 'postcss';
import { flattenSheet, type FlatSheet } from '../css/flatten.ts';
import { parseSheet } from '../css/parse-sheet.ts';
import type { FoldFingerprint } from '../fold/staleness.ts';
import type { Capture, Exchange } from '../measure/exchange.ts';
import { headerOf, headersOf } from '../measure/headers.ts';
import { analyseScript, type ScriptFacts } from '../scripts/analyse.ts';
import { moduleImports } from '../scripts/module-imports.ts';

/** Where the exact bytes of a capture are, by their SHA-256; null for those that are not held. */
export type BodySource = (hash: string) => Uint8Array | null;

/** A capture that holds no HTML of its page: nothing can be read of it. */
export class NoHtml extends Error {
  constructor(url: string) {
    super(`The capture holds no HTML of ${url}. Measure it again.`);
    this.name = 'NoHtml';
  }
}

/**
 * A captured page as everything reads it: exchanges by address, texts decoded once, HTML, sheets and scripts read once
 * and remembered, bodies on demand. It never changes: what is asked twice is the same object.
 *
 * @example
 * const page = new CapturedPage(capture, (hash) => bodies.get(hash) ?? null);
 * page.text('https://quay.test/a.css'); // decoded
 * page.document.elements; // throws NoHtml where there is no HTML
 */
export class CapturedPage {
  readonly capture: Capture;
  #bodies: BodySource;
  #byAddress = new Map<string, Exchange[]>();
  #texts = new Map<string, string | null>();
  #sheets = new Map<string, FlatSheet | null>();
  #roots = new Map<string, Root | null>();
  #inlineRoots = new Map<HtmlElement, Root>();
  #facts = new Map<string, ScriptFacts>();
  #imports = new Map<string, readonly string[]>();
  #document: HtmlDocument | null = null;
  #scripts: readonly ScriptElement[] | null = null;
  #styles: readonly StyleElement[] | null = null;
  #policies: readonly ContentPolicy[] | null = null;

  constructor(capture: Capture, bodies: BodySource | ReadonlyMap<string, Uint8Array>) {
    this.capture = capture;
    this.#bodies = typeof bodies === 'function' ? bodies : (hash) => bodies.get(hash) ?? null;
    for (const exchange of capture.exchanges) {
      const address = bare(exchange.url);
      const known = this.#byAddress.get(address);
      if (known) known.push(exchange);
      else this.#byAddress.set(address, [exchange]);
    }
  }

  /** The page's address after redirects. */
  get url(): string {
    return this.capture.documentUrl;
  }

  /** The same capture seen from another page that it holds. */
  at(url: string): CapturedPage {
    return new CapturedPage({ ...this.capture, url, documentUrl: url }, this.#bodies);
  }

  /** All exchanges of an address, its fragment aside, in their order. */
  exchangesOf(url: string): readonly Exchange[] {
    return this.#byAddress.get(bare(url)) ?? [];
  }

  /** The exchange that answered an address with a body; null for none. */
  exchange(url: string): Exchange | null {
    return this.exchangesOf(url).find((one) => one.method === 'GET' && one.bodyHash !== null) ?? null;
  }

  /** Exact body bytes of an address; null for none. */
  body(url: string): Uint8Array | null {
    const hash = this.exchange(url)?.bodyHash;
    return hash ? this.#bodies(hash) : null;
  }

  /** Exact bytes by their hash: of what was made of the capture since as well. Null for what is not held. */
  bodyOf(hash: string): Uint8Array | null {
    return this.#bodies(hash);
  }

  /** The content-type header that an address was answered with, '' for none. */
  contentType(url: string): string {
    return headerOf(this.exchange(url)?.responseHeaders ?? [], 'content-type') ?? '';
  }

  /**
   * A body as text: byte-order mark first, then the header's charset, an @charset rule, else the page's own
   * encoding (CSS Syntax 3, section 3.2; HTML, "fetch a classic script"). Null for what the capture does not hold.
   */
  text(url: string): string | null {
    const address = bare(url);
    let known = this.#texts.get(address);
    if (known === undefined) this.#texts.set(address, (known = this.#decode(address)));
    return known;
  }

  #decode(url: string): string | null {
    const bytes = this.body(url);
    if (!bytes) return null;
    const rule = /^@charset "([^"]+)";/.exec(new TextDecoder('latin1').decode(bytes.subarray(0, 100)))?.[1];
    const mark = bytes[0] === 0xef && bytes[1] === 0xbb && bytes[2] === 0xbf;
    const said = /charset=["']?([\w-]+)/i.exec(this.contentType(url))?.[1] ?? rule;
    const label = mark ? 'utf-8' : (said ?? this.#encoding);
    try {
      return new TextDecoder(label).decode(bytes);
    } catch {
      return new TextDecoder().decode(bytes);
    }
  }

  get #encoding(): string {
    if (this.#document) return this.#document.encoding;
    const html = this.body(this.url);
    return html ? encodingOf(html, this.contentType(this.url)) : 'utf-8';
  }

  /** The page's HTML, read. @throws NoHtml where the capture does not hold it */
  get document(): HtmlDocument {
    if (this.#document) return this.#document;
    const html = this.body(this.url);
    if (!html) throw new NoHtml(this.url);
    return (this.#document = readHtml(html, this.contentType(this.url)));
  }

  /** Whether the capture holds the page's HTML. */
  get hasDocument(): boolean {
    return this.body(this.url) !== null;
  }

  /** What relative addresses of the page are taken from. */
  get baseUrl(): string {
    return baseUrl(this.document, this.url);
  }

  /** Script elements that a browser runs, in document order. */
  get scripts(): readonly ScriptElement[] {
    return (this.#scripts ??= scriptsOf(this.document, this.url));
  }

  /** Stylesheet links and style elements, in document order. */
  get styles(): readonly StyleElement[] {
    return (this.#styles ??= stylesOf(this.document, this.url));
  }

  /** The Content-Security-Policies that it is under. */
  get policies(): readonly ContentPolicy[] {
    return (this.#policies ??= policiesOf(
      headersOf(this.exchange(this.url)?.responseHeaders ?? [], 'content-security-policy'),
      this.document,
    ));
  }

  /** A stylesheet with its imports written out in place; null where the capture does not hold it. */
  sheet(url: string): FlatSheet | null {
    let known = this.#sheets.get(url);
    if (known === undefined)
      this.#sheets.set(url, (known = flattenSheet(url, (one) => this.text(one), this.baseUrl)));
    return known;
  }

  /** One stylesheet as it stands, read; null where the capture does not hold it. It is read by all, and changed by none. */
  root(url: string): Root | null {
    let known = this.#roots.get(url);
    if (known === undefined) {
      const text = this.text(url);
      this.#roots.set(url, (known = text === null ? null : parseSheet(text, url)));
    }
    return known;
  }

  /** The rules of a style element, read. They are read by all, and changed by none. */
  inlineRoot(element: HtmlElement): Root {
    let known = this.#inlineRoots.get(element);
    if (!known) this.#inlineRoots.set(element, (known = parseSheet(element.text, this.url)));
    return known;
  }

  /** What a script of the page does, by its element. */
  factsOf({ url, element, module }: ScriptElement): ScriptFacts {
    const kind = module ? 'module' : 'script';
    return url === null
      ? this.#analysed(`${kind} inline ${element.index}`, element.text, kind)
      : this.#analysed(`${kind} ${url}`, this.text(url), kind);
  }

  /** Takes over what was found in scripts of these very texts before, by kind and address: "script https://…". */
  knowing(facts: ReadonlyMap<string, ScriptFacts>): this {
    for (const [key, one] of facts) this.#facts.set(key, one);
    return this;
  }

  /** What was found in scripts so far, by kind and address; of inline ones by their place. */
  get factsRead(): ReadonlyMap<string, ScriptFacts> {
    return this.#facts;
  }

  /** What a script does that another one puts into the page. */
  factsAt(url: string): ScriptFacts {
    return this.#analysed(`script ${url}`, this.text(url), 'script');
  }

  /** What a module imports, as it is written there. */
  importsAt(url: string): readonly string[] {
    return this.importsOf(this.text(url) ?? '');
  }

  /** The same of a module's text. */
  importsOf(source: string): readonly string[] {
    let known = this.#imports.get(source);
    if (!known) this.#imports.set(source, (known = moduleImports(source)));
    return known;
  }

  #analysed(key: string, source: string | null, kind: 'script' | 'module'): ScriptFacts {
    let known = this.#facts.get(key);
    if (!known) this.#facts.set(key, (known = analyseScript(source, kind)));
    return known;
  }

  /** What is made for its layout is made from: its sheets and all its elements. */
  get fingerprint(): FoldFingerprint {
    return { sheets: this.sheetHashes, structure: structureOf(this.document) };
  }

  /** The stylesheets of the capture with the hashes of their bodies, each once, by address. */
  get sheetHashes(): { url: string; hash: string }[] {
    const found = new Map<string, string>();
    for (const one of this.capture.exchanges)
      if (one.kind === 'stylesheet' && one.bodyHash) found.set(one.url, one.bodyHash);
    return [...found].map(([url, hash]) => ({ url, hash })).sort((a, b) => (a.url < b.url ? -1 : 1));
  }
}

function bare(url: string): string {
  return url.replace(/#.*$/, '');
}
