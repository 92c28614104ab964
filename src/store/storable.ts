/**
 * What PostgreSQL keeps of a text: neither the character NUL nor half of a surrogate pair (its manual, "Character
 * Types" and "JSON Types"). Captured pages hold both; each becomes the replacement character.
 */
export function storableText(text: string): string {
  const formed = text.isWellFormed() ? text : text.toWellFormed();
  return formed.includes('\0') ? formed.replaceAll('\0', '\ufffd') : formed;
}

/** JSON writes both as escapes, half pairs only where they are alone; what is escaped itself is passed over. */
const UNSTORABLE = /\\\\|\\u(?:0000|d[89a-f][0-9a-f]{2})/g;

/** A value as JSON that PostgreSQL keeps. */
export function jsonOf(value: unknown): string {
  return JSON.stringify(value).replace(UNSTORABLE, (found) => (found === '\\\\' ? found : '\\ufffd'));
}
