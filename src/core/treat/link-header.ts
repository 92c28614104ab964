import { defaultTreeAdapter as tree, parseFragment } from 'parse5';
import type { Change } from './compose.ts';
import type { PlanRule } from './plan.ts';
import { treatmentOf } from './treatments/index.ts';

/** Link types that a header may ask for ahead (HTML, "Processing Link headers"). */
const LINK_TYPES = /^(preload|modulepreload|preconnect|dns-prefetch)$/;
/** Parameters that a header takes over from a tag. */
const PARAMETERS =
  /^(rel|as|type|crossorigin|media|imagesrcset|imagesizes|fetchpriority|integrity|referrerpolicy)$/;
/** What may stand without quotes (HTTP Semantics, RFC 9110, 5.6.2). */
const TOKEN = /^[\w!#$%&'*+.^`|~-]+$/;

/**
 * The header of the page's answer that asks for the same as tags that a change puts in (Web Linking, RFC 8288): a server
 * may send it with the answer, or ahead of it as early hints (RFC 8297).
 *
 * @param rule that the change comes of
 * @param pageUrl a header's addresses are told from its own host's root
 * @returns null where no header says the same: scripts and sheets have their place among the others
 */
export function linkHeaderOf(
  { before, after, at }: Change,
  rule: Pick<PlanRule, 'kind' | 'treatment'>,
  { pageUrl, baseUrl }: { pageUrl: string; baseUrl: string },
): string | null {
  const hasPlace = rule.kind === 'script' || rule.kind === 'stylesheet';
  if (before !== '' || at === null) return null;
  if (hasPlace && !treatmentOf(rule.kind, rule.treatment)?.onlySooner) return null;
  const nodes = parseFragment(after).childNodes.filter(
    (node) => !(tree.isTextNode(node) && node.value.trim() === ''),
  );
  const links = nodes.map((node) => {
    if (!tree.isElementNode(node) || node.tagName !== 'link') return null;
    return linkOf(new Map(node.attrs.map(({ name, value }) => [name, value])), pageUrl, baseUrl);
  });
  return links.length && links.every((one) => one !== null) ? `Link: ${links.join(', ')}` : null;
}

function linkOf(attributes: ReadonlyMap<string, string>, pageUrl: string, baseUrl: string): string | null {
  const href = attributes.get('href');
  if (href === undefined || !LINK_TYPES.test(attributes.get('rel') ?? '')) return null;
  const { origin, pathname, search, href: whole, protocol } = new URL(href, baseUrl);
  if (!/^https?:$/.test(protocol)) return null;
  const parameters = [...attributes].filter(([name]) => name !== 'href');
  // A nonce is none of them: a policy that asks for one lets nothing in that a header asks for.
  if (!parameters.every(([name]) => PARAMETERS.test(name))) return null;
  const address = origin !== new URL(pageUrl).origin ? whole : pathname + search;
  return [`<${address}>`, ...parameters.map(([name, value]) => parameter(name, value))].join('; ');
}

function parameter(name: string, value: string): string {
  if (value === '') return name;
  return `${name}=${TOKEN.test(value) ? value : `"${value.replaceAll(/["\\]/g, '\\$&')}"`}`;
}
