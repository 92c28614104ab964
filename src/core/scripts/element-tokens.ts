/** What of a selector an element can be told by: `#id`, `.class`, `[attribute]`, tags. */
export function selectorTokens(selector: string): string[] {
  // The last part of each is what is found; what stands before it only says where.
  return selector.split(',').flatMap((one) => {
    const last =
      one
        .trim()
        .replace(/::?[\w-]+(\([^)]*\))?/g, '')
        .split(/[\s>+~]+/)
        .at(-1) ?? '';
    const parts = [
      ...(last.match(/[#.][\w-]+/g) ?? []),
      ...[...last.matchAll(/\[\s*([\w-]+)/g)].map((match) => `[${match[1]!.toLowerCase()}]`),
    ];
    const tag = /^[a-z][\w-]*/i.exec(last)?.[0];
    return parts.length ? parts : tag ? [tag.toLowerCase()] : last.includes('*') ? ['*'] : [];
  });
}

/** What the elements of a piece of markup can be found by. */
export function markupTokens(markup: string): string[] {
  const found: string[] = [];
  for (const [, tag, rest] of markup.matchAll(/<([a-z][\w-]*)([^>]*)/gi)) {
    found.push(tag!.toLowerCase());
    for (const [, name, , double, single, plain] of rest!.matchAll(
      /([\w-]+)(\s*=\s*("([^"]*)"|'([^']*)'|([^\s"'>]+)))?/g,
    )) {
      const value = double ?? single ?? plain ?? '';
      found.push(`[${name!.toLowerCase()}]`);
      if (name === 'id') found.push(`#${value}`);
      if (name === 'class') for (const one of value.split(/\s+/)) if (one) found.push(`.${one}`);
    }
  }
  return found;
}
