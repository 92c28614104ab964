import { tiesOf, type AssetTies } from '../core/path/ties/index.ts';
import type { Queries } from '../store/database.ts';
import { latestFold } from '../store/proofs.ts';
import { measuredPage, type MeasuredPage } from './stored-page.ts';

/** An asset's headers, content and place, for the one who looks closer. */
export interface AssetView {
  requestHeaders: [string, string][];
  responseHeaders: [string, string][];
  status: number;
  protocol: string;
  /** Text of a text asset, cut where it is very long; null for others. */
  content: string | null;
  cut: boolean;
  /** The lines around the place in which it was found. */
  source: { url: string; line: number; lines: { number: number; text: string }[] } | null;
  /** What it defines, who needs it, and what it needs. */
  ties: AssetTies;
}

const MOST_TEXT = 1_000_000;
const AROUND = 3;

export async function assetView(
  queries: Queries,
  pageId: number,
  conditionsId: string,
  url: string,
): Promise<AssetView | null> {
  const page = await measuredPage(queries, pageId, conditionsId);
  const exchange = page?.assets.captured.exchangesOf(url)[0];
  if (!page || !exchange) return null;
  const { captured } = page.assets;
  const fold = await latestFold(queries, pageId);
  const isText = /^text\/|javascript|json|xml|svg/.test(exchange.mimeType);
  const content = isText ? captured.text(url) : null;
  const secret = /^(cookie|set-cookie|authorization)$/i;
  const shown = (headers: readonly (readonly [string, string])[]) =>
    headers
      .filter(([name]) => !name.startsWith(':'))
      .map(([name, value]): [string, string] => [name, secret.test(name) ? '●●●●' : value]);
  return {
    requestHeaders: shown(exchange.requestHeaders),
    responseHeaders: shown(exchange.responseHeaders),
    status: exchange.status,
    protocol: exchange.protocol,
    content: content?.slice(0, MOST_TEXT) ?? null,
    cut: (content?.length ?? 0) > MOST_TEXT,
    source: sourceOf(page, url),
    ties: tiesOf(url, exchange.kind, {
      page: page.assets,
      kept: (fold?.sheets ?? []).flatMap((sheet) => sheet.kept),
    }),
  };
}

/** A picture of a page's capture, byte for byte; null for what is none, or was not captured. */
export async function assetPicture(
  queries: Queries,
  pageId: number,
  conditionsId: string,
  url: string,
): Promise<{ mimeType: string; bytes: Uint8Array } | null> {
  const page = await measuredPage(queries, pageId, conditionsId);
  const mimeType = page?.assets.captured.exchange(url)?.mimeType;
  const bytes = page?.assets.captured.body(url);
  return bytes && mimeType && /^image\//.test(mimeType) ? { mimeType, bytes } : null;
}

function sourceOf(page: MeasuredPage, url: string): AssetView['source'] {
  const discovery = page.requests.find((one) => one.url === url)?.discovery;
  if (!discovery || !('line' in discovery) || discovery.line === null) return null;
  const from = discovery.by === 'parser' ? discovery.document : discovery.url;
  const text = page.assets.captured.text(from);
  if (!text) return null;
  const all = text.split('\n');
  const first = Math.max(0, discovery.line - 1 - AROUND);
  return {
    url: from,
    line: discovery.line,
    lines: all
      .slice(first, discovery.line + AROUND)
      .map((line, index) => ({ number: first + index + 1, text: line.slice(0, 300) })),
  };
}
