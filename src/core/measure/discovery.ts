/** What an asset is, as the browser asked for it. */
export type AssetKind =
  | 'document'
  | 'script'
  | 'stylesheet'
  | 'font'
  | 'image'
  | 'embed'
  | 'data'
  | 'beacon'
  | 'preflight'
  | 'other';

/** What the browser said of blocking when it asked: the DevTools protocol's own words, made ours. */
export type BlockingStatus = 'blocking' | 'in-body-parser-blocking' | 'potentially-blocking' | 'non-blocking';

/** How the browser came to know of an asset. */
export type Discovery =
  | { by: 'navigation' }
  | { by: 'parser'; document: string; line: number | null; column?: number | null }
  | { by: 'stylesheet'; url: string; line: number | null; column?: number | null }
  | { by: 'script'; url: string; line: number | null; column?: number | null }
  | { by: 'preload' }
  | { by: 'other' };
