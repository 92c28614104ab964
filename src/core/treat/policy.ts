import { inlineLeave, ownFileRefusedBy, type InlineKind } from '../html/content-policy.ts';
import type { PageAssets } from '../page/page-assets.ts';
import type { Refusal } from './refusal.ts';

/**
 * Why a page's Content-Security-Policy does not let something be put in; null where it does, or there is none.
 *
 * @param written what is put in, each with the ways in which it can be done
 */
export function policyRefusal(
  page: PageAssets,
  written: readonly (readonly InlineKind[])[],
): Extract<Refusal, { code: 'policy' }> | null {
  for (const ways of written) {
    const refused = ways.flatMap((kind) => {
      const leave = inlineLeave(page.policies, kind);
      return leave.state === 'refused' ? [{ kind, by: leave.by }] : [];
    });
    const [first] = refused;
    if (first && refused.length === ways.length) return { code: 'policy', refuses: first.kind, by: first.by };
  }
  return null;
}

/** Why a page's policies do not let a file of its own host in; null where they do. @param nonce of its element */
export function ownFileRefusal(
  { policies, documentUrl }: PageAssets,
  kind: 'script' | 'style' | 'image' | 'font',
  nonce: string | null,
): Extract<Refusal, { code: 'policy' }> | null {
  const by = ownFileRefusedBy(policies, documentUrl, kind, nonce);
  return by === null ? null : { code: 'policy', refuses: `${kind} file`, by };
}

/** What lets a late sheet apply once it is there: an attribute of its own, or where policies refuse that, a script. */
export function lateSwitchOf({ policies }: PageAssets): 'attribute' | 'script' {
  return inlineLeave(policies, 'handler').state === 'refused' ? 'script' : 'attribute';
}

/** The nonce that a new style or script has to carry; null for none. */
export function nonceFor({ policies }: PageAssets, kind: 'style' | 'script'): string | null {
  const leave = inlineLeave(policies, kind);
  return leave.state === 'let through' ? leave.nonce : null;
}
