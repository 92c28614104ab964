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

/** ` name="value"` of a start tag; nothing where there is no value. */
export function attribute(name: string, value: string | null): string {
  return value === null ? '' : ` ${name}="${attributeValue(value)}"`;
}

/**
 * A style element for a page of some encoding; nothing in it looks like its own end.
 *
 * @param media '' for all
 * @param nonce that the page's policy asks for
 */
export function styleElement(
  encoding: string,
  css: string,
  media: string,
  nonce: string | null = null,
): string {
  const given = attribute('media', media && media !== 'all' ? media : null) + attribute('nonce', nonce);
  return `<style${markupIn(encoding, given)}>${cssIn(encoding, css).replaceAll(/<\/(style)/gi, '<\\/$1')}</style>`;
}

const OTHER_LETTERS = /[^\0-\x7f]/gu;

const hexOf = (letter: string) => letter.codePointAt(0)!.toString(16);
