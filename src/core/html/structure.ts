import { parse, type DefaultTreeAdapterTypes } from 'parse5';
import { latin1 } from './document.ts';

/** An element of a page as what CSS sees of it: depth, tag, id and classes. */
export function structureOf(html: Uint8Array): string[] {
  const found: string[] = [];
  const visit = (
    node: DefaultTreeAdapterTypes.ChildNode | DefaultTreeAdapterTypes.Document,
    depth: number,
  ): void => {
    if ('tagName' in node) {
      const value = (name: string) => node.attrs.find((one) => one.name === name)?.value.trim() ?? '';
      const id = value('id');
      const classes = value('class').split(/\s+/).filter(Boolean).sort();
      found.push(
        `${depth} ${node.tagName}${id ? `#${id}` : ''}${classes.map((name) => `.${name}`).join('')}`,
      );
    }
    if ('childNodes' in node)
      for (const child of node.childNodes)
        visit(child as DefaultTreeAdapterTypes.ChildNode, depth + ('tagName' in node ? 1 : 0));
  };
  visit(parse(latin1(html)), 0);
  return found;
}
