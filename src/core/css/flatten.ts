import postcss, { type AtRule, type ChildNode, type Root } from 'postcss';
import { generate, parse as parseCss, type AtrulePrelude } from 'css-tree';
import { isFrameBlock, outlineOf, type OutlineNode } from './outline.ts';
import { parseSheet } from './parse-sheet.ts';
import { mapUrls, rebase, unquote } from './urls.ts';

/** A stylesheet's text by its address, or null when the capture does not hold it. */
export type SheetSource = (url: string) => string | null;

/** A stylesheet with its @import chain written out in place. */
export interface FlatSheet {
  url: string;
  root: Root;
  /** Every sheet that went into it, the first being itself. */
  parts: SheetPart[];
  /** Media queries of the links that load it; none where one of them has none. */
  media: readonly string[];
  /** Style rules in it. */
  rules: number;
  /** Sentences about what could not be read. */
  problems: string[];
}

/** A file that went into a sheet, as it was read before imports were written out in place. */
export interface SheetPart {
  url: string;
  bytes: number;
  text: string;
  /** Its rules by kind and depth: what a browser's own list of them has to agree with. */
  outline: OutlineNode[];
}

/** Sheets that import others twice, and these others twice, would be endless. */
const MOST_PARTS = 400;
const MOST_BYTES = 4_000_000;

/**
 * Reads a stylesheet and writes its imports out in place, wrapped in their own media, supports and layer
 * (CSS Cascade 5, section 6.3), with every url() rebased to the document.
 *
 * @returns null when the sheet is not there
 */
export function flattenSheet(url: string, source: SheetSource, documentUrl: string): FlatSheet | null {
  const text = source(url);
  if (text === null) return null;
  const flat: FlatSheet = { url, root: postcss.root(), parts: [], media: [], rules: 0, problems: [] };
  flat.root = readInto(flat, url, text, source, documentUrl, []);
  flat.root.walkRules((rule) => {
    if (!isFrameBlock(rule)) flat.rules++;
  });
  return flat;
}

function readInto(
  flat: FlatSheet,
  url: string,
  text: string,
  source: SheetSource,
  documentUrl: string,
  chain: readonly string[],
): Root {
  const root = parseSheet(text, url);
  flat.parts.push({ url, bytes: new TextEncoder().encode(text).length, text, outline: outlineOf(root) });
  root.walkDecls((declaration) => {
    if (declaration.value.includes('(')) {
      declaration.value = mapUrls(declaration.value, (one) => rebase(one, url, documentUrl));
    }
  });

  // Imports hold only before every other rule but @charset and @layer statements, namespaces before all but these.
  let mayImport = true;
  let mayNamespace = true;
  const namespaces: AtRule[] = [];
  for (const node of [...root.nodes]) {
    if (node.type === 'atrule' && node.name.toLowerCase() === 'charset') {
      node.remove();
      continue;
    }
    if (node.type === 'atrule' && node.name.toLowerCase() === 'import') {
      if (mayImport && !node.nodes) replaceImport(flat, node, url, source, documentUrl, [...chain, url]);
      else node.remove();
      continue;
    }
    if (node.type === 'atrule' && node.name.toLowerCase() === 'namespace') {
      if (mayNamespace) namespaces.push(node);
      node.remove();
      mayImport = false;
      continue;
    }
    const layerStatement = node.type === 'atrule' && node.name.toLowerCase() === 'layer' && !node.nodes;
    if (!layerStatement) mayImport = mayNamespace = false;
  }
  // What was imported stands before them now, and they hold only at the front.
  root.prepend(namespaces);
  return root;
}

function replaceImport(
  flat: FlatSheet,
  node: AtRule,
  url: string,
  source: SheetSource,
  documentUrl: string,
  chain: readonly string[],
): void {
  const request = readImport(node.params);
  const target = request && URL.canParse(request.url, url) && new URL(request.url, url).href;
  if (!request || !target || chain.includes(target)) {
    node.remove();
    return;
  }
  if (flat.parts.length >= MOST_PARTS || flat.parts.reduce((sum, one) => sum + one.bytes, 0) > MOST_BYTES) {
    const told = 'Too much is imported: the rest was not read and stays out of the fold CSS.';
    if (!flat.problems.includes(told)) flat.problems.push(told);
    node.remove();
    return;
  }
  const text = source(target);
  const inner = text === null ? null : readInto(flat, target, text, source, documentUrl, chain);
  if (!inner) {
    flat.problems.push(`The import of ${target} was not in the capture and stays out of the fold CSS.`);
    node.remove();
    return;
  }
  let nodes: ChildNode[] = inner.nodes;
  const wrap = (name: string, params: string) => {
    const at = postcss.atRule({
      name,
      params,
      source: node.source,
    });
    at.append(nodes);
    nodes = [at];
  };
  if (request.layer !== null) wrap('layer', request.layer);
  if (request.supports) wrap('supports', request.supports);
  if (request.media) wrap('media', request.media);
  node.replaceWith(nodes);
}

/** What an @import asks for; `layer` is '' for an anonymous layer and null for none. */
export interface ImportRequest {
  url: string;
  layer: string | null;
  supports: string | null;
  media: string | null;
}

/** Reads the prelude of an @import; null when it is not one. */
export function readImport(params: string): ImportRequest | null {
  let prelude: AtrulePrelude;
  try {
    const tree = parseCss(params, { context: 'atrulePrelude', atrule: 'import', parseAtrulePrelude: true });
    if (tree.type !== 'AtrulePrelude') return null;
    prelude = tree;
  } catch {
    return null;
  }
  const request: ImportRequest = { url: '', layer: null, supports: null, media: null };
  for (const node of prelude.children) {
    const text = generate(node);
    if (node.type === 'String' || node.type === 'Url') request.url ||= node.value || unquote(text);
    else if (node.type === 'Identifier' && node.name === 'layer') request.layer = '';
    else if (node.type === 'Function' && node.name === 'layer') request.layer = text.slice(6, -1);
    else if (node.type === 'Function' && node.name === 'supports') {
      const condition = text.slice(9, -1);
      request.supports = /^\(|^not|^selector/.test(condition) ? condition : `(${condition})`;
    } else if (node.type === 'MediaQueryList') request.media = text;
  }
  return request.url ? request : null;
}
