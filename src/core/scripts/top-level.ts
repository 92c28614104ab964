import type { Pattern, Program } from 'acorn';

/** What a classic script's text means for others that stand in one text with it. */
export interface TopLevel {
  /** It begins with "use strict", which then holds for all of the text. */
  strict: boolean;
  /** Names that it declares at its top: in one text they are there before its first line runs. */
  declared: ReadonlySet<string>;
}

/** Reads the top of a script. */
export function topLevelOf({ body }: Program): TopLevel {
  const declared = new Set<string>();
  for (const node of body) {
    if (node.type === 'FunctionDeclaration' || node.type === 'ClassDeclaration') declared.add(node.id.name);
    if (node.type === 'VariableDeclaration')
      for (const { id } of node.declarations) for (const name of namesIn(id)) declared.add(name);
  }
  const strict = body.some((node) => node.type === 'ExpressionStatement' && node.directive === 'use strict');
  return { strict, declared };
}

/** The names that a pattern gives values to (ECMAScript, "BoundNames"). */
function namesIn(pattern: Pattern): string[] {
  switch (pattern.type) {
    case 'Identifier':
      return [pattern.name];
    case 'ObjectPattern':
      return pattern.properties.flatMap((one) =>
        namesIn(one.type === 'RestElement' ? one.argument : one.value),
      );
    case 'ArrayPattern':
      return pattern.elements.flatMap((one) => (one ? namesIn(one) : []));
    case 'AssignmentPattern':
      return namesIn(pattern.left);
    case 'RestElement':
      return namesIn(pattern.argument);
    case 'MemberExpression':
      return [];
  }
}
