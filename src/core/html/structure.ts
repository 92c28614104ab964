import { parse, type DefaultTreeAdapterTypes } from 'parse5';
import { latin1 } from './document.ts';

type Element = DefaultTreeAdapterTypes.Element;

/** An element of a page as what CSS sees of it: depth, tag, id and classes. */
export function structureOf(html: Uint8Array): string[] {
  return elementsOf(html).map(({ element, depth }) => {
    const value = (name: string) => element.attrs.find((one) => one.name === name)?.value.trim() ?? '';
    const id = value('id');
    const classes = value('class').split(/\s+/).filter(Boolean).sort();
    return `${depth} ${element.tagName}${id ? `#${id}` : ''}${classes.map((name) => `.${name}`).join('')}`;
  });
}

/** How much of the HTML holds its first elements, bytes: to the end of the start tag of the last of them. */
export function bytesDownTo(html: Uint8Array, elements: number): number {
  const all = elementsOf(html);
  if (elements >= all.length) return html.length;
  // Elements that only the parser put in stand nowhere.
  const ends = all.slice(0, elements).map(({ element }) => {
    const location = element.sourceCodeLocation;
    return location?.startTag?.endOffset ?? location?.endOffset ?? 0;
  });
  return Math.max(0, ...ends);
}

/** Elements in document order, with the number of elements around each. */
function elementsOf(html: Uint8Array): { element: Element; depth: number }[] {
  const found: { element: Element; depth: number }[] = [];
  const visit = (
    node: DefaultTreeAdapterTypes.ChildNode | DefaultTreeAdapterTypes.Document,
    depth: number,
  ): void => {
    const isElement = 'tagName' in node;
    if (isElement) found.push({ element: node as Element, depth });
    if ('childNodes' in node)
      for (const child of node.childNodes)
        visit(child as DefaultTreeAdapterTypes.ChildNode, depth + (isElement ? 1 : 0));
  };
  visit(parse(latin1(html), { sourceCodeLocationInfo: true }), 0);
  return found;
}
