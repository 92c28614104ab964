import { matchText, type Match, type RuleKind } from './plan.ts';
import type { Refusal } from './refusal.ts';
import type { AssetOf, Scene } from './treatment.ts';
import { treatmentOf } from './treatments/index.ts';

/** Kinds whose treatments concern no other asset: none has an order, or a place, that another one goes by. */
export type LoneKind = Extract<
  RuleKind,
  'font' | 'font-file' | 'image' | 'image-file' | 'embed' | 'data' | 'host' | 'next'
>;

export function isLone(kind: RuleKind): kind is LoneKind {
  return kind !== 'script' && kind !== 'stylesheet';
}

const FIND: { readonly [K in LoneKind]: (scene: Scene, match: Match) => AssetOf[K] | null } = {
  font: (_scene, match) => ({ url: matchText(match) }),
  'font-file': ({ fonts }, match) => fonts.find((one) => one.url === matchText(match)) ?? null,
  image: ({ images }, match) => images.find((one) => one.url === matchText(match)) ?? null,
  'image-file': ({ images }, match) => images.find((one) => one.url === matchText(match)) ?? null,
  embed: ({ embeds }, match) => embeds.find((one) => one.url === matchText(match)) ?? null,
  data: ({ data }, match) => data.find((one) => one.url === matchText(match)) ?? null,
  host: (_scene, match) => ({ origin: matchText(match) }),
  next: ({ next }, match) => next.find((one) => one.url === matchText(match)) ?? null,
};

/** What a rule is about; null where the page has no such thing. */
export function loneAsset<K extends LoneKind>(scene: Scene, kind: K, match: Match): AssetOf[K] | null {
  return FIND[kind](scene, match);
}

/**
 * Why a font, an image, an embed, data, a host or what a next page needs cannot have a treatment; null where it can. The one
 * place that says so, for recommending, offering, applying and plan files alike.
 */
export function loneRefusal<K extends LoneKind>(
  scene: Scene,
  kind: K,
  match: Match,
  id: string,
): Refusal | null {
  const asset = loneAsset(scene, kind, match);
  if (!asset) return { code: 'no-such-asset', kind };
  const treatment = treatmentOf(kind, id);
  if (!treatment?.isFor(asset, scene)) return { code: 'not-for-this', treatment: treatment?.label ?? id };
  return treatment.refuses(asset, scene);
}
