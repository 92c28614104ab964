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

/**
 * The directive that refuses what a treatment would write into the page, as it is written; null where all
 * policies let it through. A nonce or a hash lets the author's own through, never what is new (CSP 3, "does a
 * source list allow all inline behavior for type").
 */
export function inlineRefusedBy(policies: readonly ContentPolicy[], kind: InlineKind): string | null {
  for (const policy of policies) {
    const name = DECIDED_BY[kind].find((one) => policy.has(one));
    if (name !== undefined && !allowsAllInline(policy.get(name)!, kind))
      return [name, ...policy.get(name)!].join(' ');
  }
  return null;
}

function allowsAllInline(sources: readonly string[], kind: InlineKind): boolean {
  const lower = sources.map((source) => source.toLowerCase());
  if (lower.some((source) => /^'(nonce|sha256|sha384|sha512)-/.test(source))) return false;
  if (kind !== 'style' && lower.includes("'strict-dynamic'")) return false;
  return lower.includes("'unsafe-inline'");
}
