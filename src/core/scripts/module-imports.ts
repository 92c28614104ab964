import { parse } from 'acorn';

/** What a module asks for before it runs, as it is written there, in its order; none of what cannot be read. */
export function moduleImports(source: string): string[] {
  try {
    const { body } = parse(source, { ecmaVersion: 'latest', sourceType: 'module', allowHashBang: true });
    return body.flatMap((node) =>
      'source' in node && typeof node.source?.value === 'string' ? [node.source.value] : [],
    );
  } catch {
    return [];
  }
}
