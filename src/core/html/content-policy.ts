import type { HtmlDocument } from './document.ts';

/** One Content-Security-Policy: its directives by name, in lower case, with their sources as written. */
export type ContentPolicy = ReadonlyMap<string, readonly string[]>;

/** What stands in the page itself: the text of styles and scripts, and `on…` attributes. */
export type InlineKind = 'style' | 'script' | 'handler';

/** Where each kind is decided, the first that is there (CSP 3, "get fetch directive fallback list"). */
const DECIDED_BY: Record<InlineKind, readonly string[]> = {
  style: ['style-src-elem', 'style-src', 'default-src'],
  script: ['script-src-elem', 'script-src', 'default-src'],
  handler: ['script-src-attr', 'script-src', 'default-src'],
};

/**
 * The policies that a page is under: those of its headers, and those of `<meta http-equiv>` in its head (HTML,
 * "Content security policy state"). What is only reported refuses nothing.
 *
 * @param headers values of its Content-Security-Policy headers
 */
export function policiesOf(headers: readonly string[], { elements }: HtmlDocument): ContentPolicy[] {
  const metas = elements.flatMap(({ tag, inHead, inert, attributes }) =>
    tag === 'meta' && inHead && !inert && /^content-security-policy$/i.test(attributes['http-equiv'] ?? '')
      ? [attributes['content'] ?? '']
      : [],
  );
  // Headers of one name may come joined (RFC 9110, section 5.3).
  return [...headers.flatMap((value) => value.split(/[,\n]/)), ...metas]
    .map(parsePolicy)
    .filter((policy) => policy.size > 0);
}

/** CSP 3, "parse a serialized CSP": of directives of one name the first counts. */
function parsePolicy(text: string): ContentPolicy {
  const directives = new Map<string, string[]>();
  for (const part of text.split(';')) {
    const [name, ...sources] = part.trim().split(/\s+/);
    const key = name!.toLowerCase();
    if (key && !directives.has(key)) directives.set(key, sources);
  }
  return directives;
}

/** What policies say of something new in the page: let through (with the nonce it then has to carry), or refused. */
export type InlineLeave = { state: 'let through'; nonce: string | null } | { state: 'refused'; by: string };

/**
 * Whether all policies let through what a treatment would write into the page. A hash lets only the author's own
 * through; what is new may carry a nonce that the policies name (CSP 3, "does element match source list for type
 * and source"), where it is an element: attributes cannot.
 */
export function inlineLeave(policies: readonly ContentPolicy[], kind: InlineKind): InlineLeave {
  const deciding = policies.flatMap((policy) => {
    const name = DECIDED_BY[kind].find((one) => policy.has(one));
    return name === undefined ? [] : [{ name, sources: policy.get(name)! }];
  });
  const strict = deciding.filter(({ sources }) => !allowsAllInline(sources, kind));
  const [first] = strict;
  if (!first) return { state: 'let through', nonce: null };
  const noncesOf = (sources: readonly string[]) =>
    kind === 'handler' ? [] : sources.flatMap((source) => /^'nonce-(.+)'$/i.exec(source)?.[1] ?? []);
  // An element carries one nonce only: it has to do for each of them.
  const nonce = noncesOf(first.sources).find((one) =>
    strict.every(({ sources }) => noncesOf(sources).includes(one)),
  );
  if (nonce !== undefined) return { state: 'let through', nonce };
  const refusing = strict.find(({ sources }) => noncesOf(sources).length === 0) ?? first;
  return { state: 'refused', by: [refusing.name, ...refusing.sources].join(' ') };
}

/** Of these the first that a policy has decides about font files (CSP 3, "font-src"). */
const FONTS = ['font-src', 'default-src'];
/** And about images. */
const IMAGES = ['img-src', 'default-src'];

/**
 * By which directive policies refuse a script, style, font or image file of the page's own host; null where all let it through.
 *
 * @param nonce that its element carries; null for none
 */
export function ownFileRefusedBy(
  policies: readonly ContentPolicy[],
  documentUrl: string,
  kind: 'script' | 'style' | 'font' | 'image',
  nonce: string | null,
): string | null {
  const { protocol, hostname, port } = new URL(documentUrl);
  for (const policy of policies) {
    const name = (kind === 'font' ? FONTS : kind === 'image' ? IMAGES : DECIDED_BY[kind]).find((one) =>
      policy.has(one),
    );
    if (name === undefined) continue;
    const sources = policy.get(name)!;
    if (nonce !== null && sources.includes(`'nonce-${nonce}'`)) continue;
    // Host lists count for nothing beside it (CSP 3, "strict-dynamic").
    const strict = kind === 'script' && sources.some((one) => one.toLowerCase() === "'strict-dynamic'");
    const lets = (source: string): boolean => {
      const text = source.toLowerCase();
      if (text === '*' || text === "'self'" || text === protocol) return true;
      const parts = /^(?:([a-z][a-z+.-]*):\/\/)?(\*\.)?([^/:]+)(?::(\d+|\*))?(\/.*)?$/.exec(text);
      // A list with paths may leave out the folder of what is new.
      if (!parts || parts[5]?.replace('/', '')) return false;
      const [, scheme, wild, name, asked] = parts;
      if (scheme && `${scheme}:` !== protocol) return false;
      if (asked !== '*' && (asked ?? '') !== port) return false;
      return wild ? hostname.endsWith(`.${name}`) : hostname === name;
    };
    if (strict || !sources.some(lets)) return [name, ...sources].join(' ');
  }
  return null;
}

function allowsAllInline(sources: readonly string[], kind: InlineKind): boolean {
  const lower = sources.map((source) => source.toLowerCase());
  if (lower.some((source) => /^'(nonce|sha256|sha384|sha512)-/.test(source))) return false;
  if (kind !== 'style' && lower.includes("'strict-dynamic'")) return false;
  return lower.includes("'unsafe-inline'");
}
