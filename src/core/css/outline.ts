import type { AtRule, Container, Rule } from 'postcss';

/** A rule of a sheet by its kind, for comparing with the list a browser makes of the same text. */
export interface OutlineNode {
  /** "rule", or the name of an at-rule that groups others. */
  kind: string;
  /** Selector list of a style rule; a browser drops the rule when it rejects it. */
  selector: string | null;
  inside: OutlineNode[];
}

/** Grouping rules that every browser of today lists; others may be dropped whole. */
const LISTED = /^(media|supports|container|layer|scope|starting-style)$/i;

/** True inside @keyframes and the like, whose blocks are no style rules. */
export function isFrameBlock(rule: Rule): boolean {
  const parent = rule.parent;
  return parent?.type === 'atrule' && /keyframes$/i.test((parent as AtRule).name);
}

/** The style and grouping rules of a sheet, in order. */
export function outlineOf(container: Container): OutlineNode[] {
  const nodes: OutlineNode[] = [];
  for (const node of container.nodes ?? []) {
    if (node.type === 'rule') nodes.push({ kind: 'rule', selector: node.selector, inside: outlineOf(node) });
    else if (node.type === 'atrule' && node.nodes && LISTED.test(node.name))
      nodes.push({ kind: node.name.toLowerCase(), selector: null, inside: outlineOf(node) });
  }
  return nodes;
}

/** An outline as text, without the rules whose selectors the browser rejects. */
export function outlineText(nodes: readonly OutlineNode[], rejected: ReadonlySet<string>): string {
  let text = '';
  for (const node of nodes) {
    if (node.selector !== null && rejected.has(node.selector)) continue;
    const inside = outlineText(node.inside, rejected);
    text += (node.kind === 'rule' ? 'r' : `@${node.kind}`) + (inside ? `{${inside}}` : ';');
  }
  return text;
}
