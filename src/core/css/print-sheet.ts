import type { ChildNode, Root } from 'postcss';

/** Prints a tree compactly, every text as it was read: what was not chosen is gone, nothing else is otherwise. */
export function printSheet(node: Root | ChildNode): string {
  switch (node.type) {
    case 'root':
      return printAll(node.nodes, true);
    case 'rule':
      return `${node.selector}{${printAll(node.nodes, false)}}`;
    case 'decl':
      return `${node.prop}:${node.value}${node.important ? '!important' : ''}`;
    case 'atrule': {
      const head = `@${node.name}${node.params ? ` ${node.params}` : ''}`;
      return node.nodes ? `${head}{${printAll(node.nodes, false)}}` : head;
    }
    case 'comment':
      return '';
  }
}

/** Declarations and at-rules without a block end with a semicolon, but for the last one in a block. */
function printAll(nodes: readonly ChildNode[], top: boolean): string {
  let text = '';
  nodes.forEach((node, index) => {
    text += printSheet(node);
    const open = node.type === 'decl' || (node.type === 'atrule' && !node.nodes);
    if (open && (top || index < nodes.length - 1)) text += ';';
  });
  return text;
}
