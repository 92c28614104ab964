/** Parts of a file's name that say which version it is: hashes, and numbers with dots. */
const VERSIONS = [
  // "lib.4f2a91bc.js", "lib-4f2a91bc.min.js", "4f2a91bc.js".
  /(^|[.\-_~])(?=[0-9a-z]*\d)[0-9a-f]{6,}(?=[.\-_~]|$)/gi,
  // "lib.Ba3x_Z9k.js": letters of any case and digits, as long as hashes are.
  /([.\-_~])(?=[\w-]*\d)(?=[\w-]*[a-z])[\w-]{8,}(?=\.\w+$)/gi,
  // "lib-1.2.3.js", "lib.v12.js".
  /([.\-_~])v?\d+(\.\d+)*(?=[.\-_~]|$)/gi,
];
/** A folder that is nothing but a version: "/v12/", "/1.2.3/", "/4f2a91bc/". */
const VERSION_FOLDER = /^(v?\d+(\.\d+)*|(?=[0-9a-z]*\d)[0-9a-f]{6,})$/i;

/**
 * An address without what changes with every release: hashes and versions in its path, and its query. Two releases of
 * one file have the same.
 *
 * @example versionless('https://quay.test/a/lib.4f2a91bc.js?v=3') // "https://quay.test/a/lib.js"
 */
export function versionless(address: string): string {
  const { origin, pathname } = new URL(address);
  const parts = pathname.split('/');
  const file = parts.pop() ?? '';
  const folders = parts.map((part) => (VERSION_FOLDER.test(part) ? '*' : part));
  const name = VERSIONS.reduce((text, version) => text.replace(version, ''), file).replace(/^[.\-_~]+/, '');
  return `${origin}${[...folders, name || '*'].join('/')}`;
}

/** An inline script's text by its shape: numbers and what stands in quotes may be others from visit to visit. */
export function shapeOf(text: string): string {
  return text
    .replace(/"(?:[^"\\\n]|\\.)*"?|'(?:[^'\\\n]|\\.)*'?/g, '""')
    .replace(/\b\d[\w.]*/g, '0')
    .replace(/\s+/g, ' ')
    .trim();
}
