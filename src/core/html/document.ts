import { parse, type DefaultTreeAdapterTypes } from 'parse5';
import { encodingOf } from './encoding.ts';

/**
 * A page's HTML with byte positions. The bytes are read one to one as Latin-1, so that every source offset
 * is a byte offset and what is not rewritten stays byte for byte; text is decoded on the way out.
 */
export interface HtmlDocument {
  bytes: Uint8Array;
  /** How its text is encoded. */
  encoding: string;
  elements: HtmlElement[];
  /** What elements of all kinds do on events, by their own attributes. */
  handlers: HtmlHandler[];
  /** Where something may be inserted: right after the head's start tag, or before the first head content. */
  headStart: number;
  /** Right after a `<meta charset>` in the head where there is one, else `headStart`. */
  afterCharset: number;
  /** Right before `</body>`, or the end of the file. */
  bodyEnd: number;
  title: string;
  /** Line of the first content of the body: text, a picture, a field; null for none. */
  contentLine: number | null;
}

/** An `on…` attribute of an element. */
export interface HtmlHandler {
  tag: string;
  attribute: string;
  code: string;
  /** Line of the element. */
  line: number;
}

/** A script, stylesheet, image or embed of the page, in document order. Offsets are bytes. */
export interface HtmlElement {
  index: number;
  tag: string;
  attributes: Record<string, string>;
  /** First byte of the start tag. */
  start: number;
  /** First byte after the whole element. */
  end: number;
  /** First byte after the start tag. */
  contentStart: number;
  contentEnd: number;
  line: number;
  inHead: boolean;
  /** Inside `<noscript>` or `<template>`: not active in a browser that runs scripts. */
  inert: boolean;
  /** Text of a script or style element, decoded. */
  text: string;
}

const KEPT = new Set(['script', 'link', 'style', 'img', 'source', 'iframe', 'meta', 'base', 'noscript']);

type Node = DefaultTreeAdapterTypes.ChildNode | DefaultTreeAdapterTypes.Document;
type Element = DefaultTreeAdapterTypes.Element;

/**
 * Reads HTML; never throws, as HTML has no invalid input.
 *
 * @param bytes the body as served, decompressed
 * @param contentType the header it came with, which may say how it is encoded
 */
export function readHtml(bytes: Uint8Array, contentType = ''): HtmlDocument {
  const source = latin1(bytes);
  const tree = parse(source, { sourceCodeLocationInfo: true, scriptingEnabled: false });
  const encoding = encodingOf(bytes, contentType);
  const decoder = new TextDecoder(encoding);
  const text = (from: number, to: number) => decoder.decode(bytes.subarray(from, to));
  const reencode = (value: string) => decoder.decode(fromLatin1(value));

  const elements: HtmlElement[] = [];
  const handlers: HtmlHandler[] = [];
  let headStart = -1;
  let bodyEnd = -1;
  let title = '';
  let contentLine: number | null = null;

  const visit = (node: Node, inHead: boolean, inert: boolean): void => {
    if (contentLine === null && !inHead && !inert && isContent(node))
      contentLine = node.sourceCodeLocation?.startLine ?? null;
    if ('tagName' in node) {
      const element = node as Element;
      const location = element.sourceCodeLocation;
      if (element.tagName === 'head' && location?.startTag) headStart = location.startTag.endOffset;
      if (element.tagName === 'html' && location?.startTag && headStart < 0)
        headStart = location.startTag.endOffset;
      if (element.tagName === 'body' && location?.endTag) bodyEnd = location.endTag.startOffset;
      if (element.tagName === 'title' && inHead && location?.startTag && location.endTag) {
        title ||= text(location.startTag.endOffset, location.endTag.startOffset).trim();
      }
      if (location && !inert)
        for (const { name, value } of element.attrs)
          if (name.startsWith('on'))
            handlers.push({
              tag: element.tagName,
              attribute: name,
              code: reencode(value),
              line: location.startLine,
            });
      if (KEPT.has(element.tagName) && location) {
        const startTag = location.startTag ?? location;
        const contentStart = startTag.endOffset;
        const contentEnd = location.endTag?.startOffset ?? Math.max(contentStart, location.endOffset);
        elements.push({
          index: elements.length,
          tag: element.tagName,
          attributes: Object.fromEntries(element.attrs.map((a) => [a.name, reencode(a.value)])),
          start: location.startOffset,
          end: location.endOffset,
          contentStart,
          contentEnd,
          line: location.startLine,
          inHead,
          inert,
          text:
            element.tagName === 'script' || element.tagName === 'style' ? text(contentStart, contentEnd) : '',
        });
      }
      inHead ||= element.tagName === 'head';
      inert ||= element.tagName === 'noscript' || element.tagName === 'template';
      if ('content' in element) visit(element.content as Node, inHead, true);
    }
    if ('childNodes' in node) for (const child of node.childNodes) visit(child as Node, inHead, inert);
  };
  visit(tree, false, false);

  if (headStart < 0) headStart = elements[0]?.start ?? doctypeEnd(source);
  const charset = elements.find((e) => e.tag === 'meta' && e.inHead && 'charset' in e.attributes);
  return {
    bytes,
    encoding,
    elements,
    handlers,
    headStart,
    afterCharset: Math.max(headStart, charset?.end ?? 0),
    bodyEnd: bodyEnd < 0 ? bytes.length : bodyEnd,
    title,
    contentLine,
  };
}

const SHOWN = new Set(['img', 'svg', 'video', 'canvas', 'input', 'button', 'iframe', 'picture', 'hr']);

/** Something of the body that can be painted: a picture, a field, or text that is no script or style. */
function isContent(node: Node): boolean {
  if ('tagName' in node) return SHOWN.has(node.tagName);
  if (node.nodeName !== '#text' || !('value' in node) || !node.value.trim()) return false;
  const parent = node.parentNode;
  return !parent || !('tagName' in parent) || !/^(script|style|title|head|html)$/.test(parent.tagName);
}

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
