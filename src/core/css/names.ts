import { ident, tokenize, tokenTypes } from 'css-tree';
import { unquote } from './urls.ts';

/** Custom properties that a CSS text names, in var() or otherwise. */
export function variablesIn(text: string): string[] {
  return text.includes('--') ? dashedIn(text) : [];
}

/** Names with two dashes in a CSS text. */
export function dashedIn(text: string): string[] {
  return identifiersIn(text).filter((name) => name.startsWith('--'));
}

/** Identifiers and strings of a CSS text, unescaped and without quotes. */
export function identifiersIn(text: string): string[] {
  const names: string[] = [];
  tokenize(text, (type, start, end) => {
    if (type === tokenTypes.Ident) names.push(ident.decode(text.slice(start, end)));
    else if (type === tokenTypes.String) names.push(unquote(text.slice(start, end)));
  });
  return names;
}
