/** Escapes a value for a double-quoted attribute. */
export function attributeValue(value: string): string {
  return value.replaceAll('&', '&amp;').replaceAll('"', '&quot;');
}

/**
 * Markup that says the same in a page of any encoding: where the page is not UTF-8, other letters become
 * character references. Not for the text of scripts and styles, which know no references.
 */
export function markupIn(encoding: string, markup: string): string {
  return encoding === 'utf-8' ? markup : markup.replaceAll(OTHER_LETTERS, (one) => `&#x${hexOf(one)};`);
}

/** CSS that says the same in a file of any encoding (CSS Syntax 3, 4.3.7: escapes). */
export function cssIn(encoding: string, css: string): string {
  return encoding === 'utf-8' ? css : css.replaceAll(OTHER_LETTERS, (one) => `\\${hexOf(one)} `);
}

/** A style element for a page of some encoding; nothing in it looks like its own end. @param media '' for all */
export function styleElement(encoding: string, css: string, media: string): string {
  const attribute = media && media !== 'all' ? ` media="${markupIn(encoding, attributeValue(media))}"` : '';
  return `<style${attribute}>${cssIn(encoding, css).replaceAll(/<\/(style)/gi, '<\\/$1')}</style>`;
}

const OTHER_LETTERS = /[^\0-\x7f]/gu;

const hexOf = (letter: string) => letter.codePointAt(0)!.toString(16);
