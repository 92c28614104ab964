import type { ChildNode, Container, Document } from 'postcss';

/** All that stands around a node of a sheet, the nearest first. */
export function around(node: ChildNode): (Container | Document)[] {
  const found: (Container | Document)[] = [];
  for (let up: Container | Document | undefined = node.parent; up; up = up.parent) found.push(up);
  return found;
}

const CONDITIONS = /^(media|supports|container|scope|starting-style)$/i;

/** Whether a declaration counts only on some screens, or in some states of the page. */
export function isUnderCondition(node: ChildNode): boolean {
  return around(node).some(
    (one) => one.type === 'atrule' && 'name' in one && CONDITIONS.test(String(one.name)),
  );
}
