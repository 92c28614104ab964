import type { RulePlace } from '../fonts/rule-places.ts';
import type { PageAssets } from '../page/page-assets.ts';
import { partyOf } from '../path/party.ts';
import { policyRefusal } from './policy.ts';

/** Whether rules are the site's own, so that others may stand in their place. */
export function isOwnPlace(page: PageAssets, { url }: RulePlace): boolean {
  return url === null
    ? policyRefusal(page, [['style']]) === null
    : partyOf(url, page.documentUrl) === 'first';
}
