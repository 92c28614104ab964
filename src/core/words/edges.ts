import type { BlockReason, DiscoveryCode, GraphEdge } from '../path/graph.ts';

const BLOCKS: Record<BlockReason, string> = {
  'blocking-sheet': 'render-blocking stylesheet',
  'imported-sheet': 'imported by a render-blocking stylesheet',
  'blocking-script': 'parser-blocking script',
  'ends-hiding': 'script that ends a hiding',
  'makes-content': 'script that makes the content',
  'content-data': 'data the content is made from',
  'blocking-font': 'font of text that is not shown without it',
  'main-image': 'image as main content',
};

const DISCOVERED: Record<DiscoveryCode, string> = {
  navigation: 'navigation',
  html: 'HTML',
  import: '@import',
  'css-url': 'url()',
  script: 'script',
  preload: 'preload',
  browser: 'the browser itself',
};

/** Why a paint had to wait for an asset. */
export function blockWords(reason: BlockReason): string {
  return BLOCKS[reason];
}

/** What an edge of the graph comes from: "HTML, line 12". */
export function edgeWords(edge: GraphEdge): string {
  if (edge.kind === 'blocks') return BLOCKS[edge.code];
  const line = edge.line === null ? '' : `, line ${edge.line}`;
  return `${DISCOVERED[edge.code]}${line}`;
}
