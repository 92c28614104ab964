import type { KeptRule } from '../../fold/choose.ts';
import type { AssetKind } from '../../measure/discovery.ts';
import type { PageAssets } from '../../page/page-assets.ts';
import { fontTies, pictureTies } from './file-ties.ts';
import { scriptTies } from './script-ties.ts';
import { sheetTies } from './sheet-ties.ts';
import { NO_TIES, type AssetTies } from './ties.ts';

export type { AssetTies, Tie } from './ties.ts';

/** All that an asset's ties are read from. */
export interface TiesInput {
  page: PageAssets;
  /** Rules that the fold CSS holds; none where it was not made. */
  kept: readonly KeptRule[];
}

/** What an asset defines, who needs it, and what it needs. */
export function tiesOf(url: string, kind: AssetKind, { page, kept }: TiesInput): AssetTies {
  const { captured } = page;
  const { capture } = captured;
  switch (kind) {
    case 'script':
      return scriptTies(page, url);
    case 'stylesheet': {
      const sheets = capture.exchanges.filter((one) => one.kind === 'stylesheet').map((one) => one.url);
      return sheetTies(url, [...new Set(sheets)], kept, (one) => captured.text(one));
    }
    case 'font':
      return fontTies(url, capture.observations);
    case 'image':
      return pictureTies(page, url, capture.observations);
    default:
      return NO_TIES;
  }
}
