import { html, parse, type DefaultTreeAdapterTypes } from 'parse5';
import { encodingOf } from './encoding.ts';

/**
 * A page's HTML with byte positions. The bytes are read one to one as Latin-1, so that every source offset
 * is a byte offset and what is not rewritten stays byte for byte; text is decoded on the way out.
 */
export interface HtmlDocument {
  readonly bytes: Uint8Array;
  /** How its text is encoded. */
  readonly encoding: string;
  readonly elements: readonly HtmlElement[];
  /** Start tags of other elements whose style attribute names a file. */
  readonly styled: readonly HtmlElement[];
  /** Every element in document order, those the parser puts in too: what CSS sees of it, and where it begins. */
  readonly places: readonly ElementPlace[];
  /** What elements of all kinds do on events, by their own attributes. */
  readonly handlers: readonly HtmlHandler[];
  /** Where its links lead, as they are written. */
  readonly links: readonly string[];
  /** Where something may be inserted: right after the head's start tag, or before the first head content. */
  readonly headStart: number;
  /** Right after a `<meta charset>` in the head where there is one, else `headStart`. */
  readonly afterCharset: number;
  /** Right before `</body>`, or the end of the file. */
  readonly bodyEnd: number;
  readonly title: string;
  /** Line of the first content of the body: text, a picture, a field; null for none. */
  readonly contentLine: number | null;
}

/** Bytes [start, end). */
export interface Span {
  start: number;
  end: number;
}

/** What an element does on an event: an `on…` attribute, or a script as an address. */
export interface HtmlHandler {
  tag: string;
  attribute: string;
  code: string;
  /** Line of the element. */
  line: number;
  /** First byte of the element's start tag. */
  start: number;
}

/** A script, stylesheet, image or embed of the page, in document order. Offsets are bytes. */
export interface HtmlElement {
  index: number;
  tag: string;
  attributes: Record<string, string>;
  /** Where each attribute stands, name and value, without the space before it. */
  attributeSpans: Record<string, Span>;
  /** Where another attribute may be put in: after the last one, or after the tag's name. */
  attributesEnd: number;
  /** First byte of the start tag. */
  start: number;
  /** First byte after the whole element. */
  end: number;
  /** First byte after the start tag. */
  contentStart: number;
  contentEnd: number;
  line: number;
  inHead: boolean;
  /** Inside `<template>`: not active. */
  inert: boolean;
  /** Text of a script or style element, decoded. */
  text: string;
  /** Whether that is what stands between its tags, to be written anew as it is. */
  isVerbatim: boolean;
}

/** An element of a page as what CSS sees of it. */
export interface ElementPlace {
  /** How many elements are around it. */
  depth: number;
  /** "p#intro.lead.wide", classes in alphabetical order. */
  name: string;
  /** The names of its attributes, as HTML has them: in lower case. */
  attributes: readonly string[];
  /** First byte after its start tag; 0 where only the parser put it in. */
  startTagEnd: number;
}

const NONE: readonly string[] = [];
const KEPT = new Set(['script', 'link', 'style', 'img', 'source', 'iframe', 'meta', 'base', 'noscript']);

/** A file in a CSS text. */
const NAMES_FILE = /url\(|image-set\(|src\(/i;

type Node = DefaultTreeAdapterTypes.ChildNode | DefaultTreeAdapterTypes.Document;
type Element = DefaultTreeAdapterTypes.Element;

/** A node on its way through the tree, with what is around it. */
interface Step {
  node: Node;
  depth: number;
  inHead: boolean;
  inert: boolean;
}

/**
 * Reads HTML as a browser that runs scripts does; never throws, as HTML has no invalid input.
 *
 * @param bytes the body as served, decompressed
 * @param contentType the header it came with, which may say how it is encoded
 */
export function readHtml(bytes: Uint8Array, contentType = ''): HtmlDocument {
  return new HtmlReader(bytes, contentType).read();
}

class HtmlReader {
  #bytes: Uint8Array;
  #encoding: string;
  #decoder: TextDecoder;
  #elements: HtmlElement[] = [];
  #styled: HtmlElement[] = [];
  #places: ElementPlace[] = [];
  #handlers: HtmlHandler[] = [];
  #links: string[] = [];
  #headStart = -1;
  #bodyEnd = -1;
  #title = '';
  #contentLine: number | null = null;

  constructor(bytes: Uint8Array, contentType: string) {
    this.#bytes = bytes;
    this.#encoding = encodingOf(bytes, contentType);
    this.#decoder = new TextDecoder(this.#encoding);
  }

  read(): HtmlDocument {
    const source = latin1(this.#bytes);
    this.#walk(parse(source, { sourceCodeLocationInfo: true }));
    const elements = this.#elements;
    const headStart = this.#headStart < 0 ? (elements[0]?.start ?? doctypeEnd(source)) : this.#headStart;
    const charset = elements.find((e) => e.tag === 'meta' && e.inHead && 'charset' in e.attributes);
    return {
      bytes: this.#bytes,
      encoding: this.#encoding,
      elements,
      styled: this.#styled,
      places: this.#places,
      handlers: this.#handlers,
      links: this.#links,
      headStart,
      afterCharset: Math.max(headStart, charset?.end ?? 0),
      bodyEnd: this.#bodyEnd < 0 ? this.#bytes.length : this.#bodyEnd,
      title: this.#title,
      contentLine: this.#contentLine,
    };
  }

  /** In document order, and without recursion: pages nest as deeply as they like. */
  #walk(tree: Node): void {
    const stack: Step[] = [{ node: tree, depth: 0, inHead: false, inert: false }];
    for (let step = stack.pop(); step; step = stack.pop()) {
      const { node } = step;
      const isElement = 'tagName' in node;
      if (this.#contentLine === null && !step.inHead && !step.inert && isContent(node))
        this.#contentLine = node.sourceCodeLocation?.startLine ?? null;
      if (isElement) this.#element(node as Element, step);
      const inHead = step.inHead || (isElement && node.tagName === 'head');
      const depth = step.depth + (isElement ? 1 : 0);
      const inert = step.inert || (isElement && isForeignCode(node as Element));
      if ('childNodes' in node)
        for (let at = node.childNodes.length - 1; at >= 0; at--)
          stack.push({ node: node.childNodes[at] as Node, depth, inHead, inert });
      // What lies in a template is there, and does nothing.
      if ('content' in node) stack.push({ node: node.content as Node, depth, inHead, inert: true });
    }
  }

  #element(element: Element, { depth, inHead, inert }: Step): void {
    const { tagName, attrs, sourceCodeLocation: location } = element;
    const startTag = location?.startTag ?? null;
    if (!inert)
      this.#places.push({
        depth,
        name: nameOf(element),
        attributes: element.attrs.length ? element.attrs.map((one) => one.name) : NONE,
        startTagEnd: startTag?.endOffset ?? location?.endOffset ?? 0,
      });
    if (tagName === 'head' && startTag) this.#headStart = startTag.endOffset;
    if (tagName === 'html' && startTag && this.#headStart < 0) this.#headStart = startTag.endOffset;
    if (tagName === 'body' && location?.endTag) this.#bodyEnd = location.endTag.startOffset;
    if (tagName === 'title' && inHead && startTag && location?.endTag)
      this.#title ||= this.#text(startTag.endOffset, location.endTag.startOffset).trim();
    if (tagName === 'a' && !inert) this.#link(element);
    if (!location) return;
    if (!inert)
      for (const { name, value } of attrs) {
        const address = name === 'href' ? /^\s*javascript:(.*)/is.exec(value)?.[1] : undefined;
        const code = name.startsWith('on') ? value : address;
        if (code === undefined) continue;
        this.#handlers.push({
          tag: tagName,
          attribute: name,
          code: this.#decoded(code),
          line: location.startLine,
          start: location.startOffset,
        });
      }
    // Of a drawing only scripts and styles are what they are called (SVG 2, section 5.1): a link in it asks for nothing.
    if (KEPT.has(tagName) && (isForeignCode(element) || element.namespaceURI === html.NS.HTML))
      this.#elements.push(this.#kept(element, location, inHead, inert));
    else if (!inert && attrs.some(({ name, value }) => name === 'style' && NAMES_FILE.test(value))) {
      const { contentStart, ...tag } = this.#kept(element, location, inHead, inert);
      this.#styled.push({ ...tag, contentStart, contentEnd: contentStart, end: contentStart });
    }
  }

  /** A file to be kept is no place to go to. */
  #link({ attrs }: Element): void {
    const href = attrs.find(({ name }) => name === 'href');
    if (href && !attrs.some(({ name }) => name === 'download')) this.#links.push(this.#decoded(href.value));
  }

  #kept(
    element: Element,
    location: NonNullable<Element['sourceCodeLocation']>,
    inHead: boolean,
    inert: boolean,
  ): HtmlElement {
    const { tagName, attrs } = element;
    const startTag = location.startTag ?? location;
    const contentStart = startTag.endOffset;
    const spans = Object.entries(location.attrs ?? {}).map(
      ([name, { startOffset, endOffset }]): [string, Span] => [name, { start: startOffset, end: endOffset }],
    );
    const contentEnd = location.endTag?.startOffset ?? Math.max(contentStart, location.endOffset);
    const isCode = tagName === 'script' || tagName === 'style';
    const source = isCode ? this.#text(contentStart, contentEnd) : '';
    const text = isForeignCode(element) ? this.#childText(element) : source;
    return {
      index: this.#elements.length,
      tag: tagName,
      attributes: Object.fromEntries(attrs.map((one) => [one.name, this.#decoded(one.value)])),
      attributeSpans: Object.fromEntries(spans),
      attributesEnd: Math.max(location.startOffset + 1 + tagName.length, ...spans.map(([, { end }]) => end)),
      start: location.startOffset,
      end: location.endOffset,
      contentStart,
      contentEnd,
      line: location.startLine,
      inHead,
      inert,
      text,
      isVerbatim: text === source,
    };
  }

  #childText({ childNodes }: Element): string {
    return this.#decoded(childNodes.map((one) => ('value' in one ? one.value : '')).join(''));
  }

  #text(from: number, to: number): string {
    return this.#decoder.decode(this.#bytes.subarray(from, to));
  }

  #decoded(value: string): string {
    return this.#decoder.decode(fromLatin1(value));
  }
}

/** Scripts and styles of a drawing hold markup like any other element of it: their code is the text right in them (SVG 2, section 6.2). */
function isForeignCode({ tagName, namespaceURI }: Element): boolean {
  return (tagName === 'script' || tagName === 'style') && namespaceURI !== html.NS.HTML;
}

function nameOf({ tagName, attrs }: Element): string {
  const value = (name: string) => attrs.find((one) => one.name === name)?.value.trim() ?? '';
  const id = value('id');
  const classes = value('class').split(/\s+/).filter(Boolean).sort();
  return `${tagName}${id ? `#${id}` : ''}${classes.map((name) => `.${name}`).join('')}`;
}

/** A page's elements as text, for telling whether they are others: "2 p#intro.lead". */
export function structureOf({ places }: HtmlDocument): string[] {
  return places.map(({ depth, name }) => `${depth} ${name}`);
}

/** How much of the HTML holds its first elements, bytes: to the end of the start tag of the last of them. */
export function bytesDownTo({ places, bytes }: HtmlDocument, elements: number): number {
  if (elements >= places.length) return bytes.length;
  return Math.max(0, ...places.slice(0, elements).map(({ startTagEnd }) => startTagEnd));
}

const SHOWN = new Set(['img', 'svg', 'video', 'canvas', 'input', 'button', 'iframe', 'picture', 'hr']);

/** Something of the body that can be painted: a picture, a field, or text that is no script or style. */
function isContent(node: Node): boolean {
  if ('tagName' in node) return SHOWN.has(node.tagName);
  if (node.nodeName !== '#text' || !('value' in node) || !node.value.trim()) return false;
  const parent = node.parentNode;
  return !parent || !('tagName' in parent) || !NO_TEXT.has(parent.tagName);
}

/** What is in these is not shown to a browser that runs scripts. */
const NO_TEXT = new Set(['script', 'style', 'title', 'head', 'html', 'noscript', 'template']);

/** A change of the page's bytes: what stands at [start, end) becomes `text` (UTF-8). */
export interface Edit {
  start: number;
  end: number;
  text: string;
}

/**
 * Applies edits; bytes outside them are copied unchanged. Insertions at one offset keep their given order.
 *
 * @throws RangeError when two edits overlap
 */
export function rewrite(bytes: Uint8Array, edits: readonly Edit[]): Uint8Array {
  const ordered = edits.map((edit, order) => ({ ...edit, order }));
  ordered.sort((a, b) => a.start - b.start || a.end - b.end || a.order - b.order);
  const encoder = new TextEncoder();
  const parts: Uint8Array[] = [];
  let at = 0;
  for (const edit of ordered) {
    if (edit.start < at) throw new RangeError(`Two changes overlap at byte ${edit.start}.`);
    parts.push(bytes.subarray(at, edit.start), encoder.encode(edit.text));
    at = edit.end;
  }
  parts.push(bytes.subarray(at));
  const whole = new Uint8Array(parts.reduce((sum, part) => sum + part.length, 0));
  let offset = 0;
  for (const part of parts) {
    whole.set(part, offset);
    offset += part.length;
  }
  return whole;
}

/** Line (from 1) of a byte offset. */
export function lineAt(bytes: Uint8Array, offset: number): number {
  let line = 1;
  for (let i = 0; i < offset && i < bytes.length; i++) if (bytes[i] === 10) line++;
  return line;
}

/** The bytes as a string of the same length, one character a byte. */
export function latin1(bytes: Uint8Array): string {
  let out = '';
  for (let i = 0; i < bytes.length; i += 0x8000) out += String.fromCharCode(...bytes.subarray(i, i + 0x8000));
  return out;
}

function fromLatin1(text: string): Uint8Array {
  return Uint8Array.from(text, (c) => c.charCodeAt(0) & 0xff);
}

function doctypeEnd(source: string): number {
  return /^\s*<!doctype[^>]*>/i.exec(source)?.[0].length ?? 0;
}
