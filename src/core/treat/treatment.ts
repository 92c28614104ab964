import * as v from 'valibot';
import type { PageFont } from '../fonts/page-fonts.ts';
import type { PageData } from '../data/page-data.ts';
import type { PageEmbed } from '../embeds/page-embeds.ts';
import type { PageImage } from '../images/page-images.ts';
import type { NextAsset } from '../next/next-assets.ts';
import type { PageAssets, PageScript, PageStyle } from '../page/page-assets.ts';
import type { Contribution } from './contribution.ts';
import type { Hiding } from './hiding.ts';
import type { Moment } from './order.ts';
import type { Risk, RuleKind } from './plan.ts';
import type { Refusal } from './refusal.ts';

/** The fold CSS that stands in for one sheet, and what is known of it. */
export interface FoldForSheet {
  url: string;
  css: string;
  /** What is loaded late in the sheet's place; the sheet itself where it is null or absent. */
  rest?: string | null;
  keptRules: number;
  rules: number;
  foldBytes: number;
}

/** All that treatments are decided on. */
export interface Scene {
  page: PageAssets;
  fold: readonly FoldForSheet[];
  /** Whether the fold CSS may be used: it is proved, or the user decided to use it all the same. */
  foldUsable: boolean;
  fonts: readonly PageFont[];
  images: readonly PageImage[];
  embeds: readonly PageEmbed[];
  /** What scripts ask for by themselves. */
  data: readonly PageData[];
  hidings: readonly Hiding[];
  /** What pages need that it links to; none where those were not measured. */
  next: readonly NextAsset[];
}

/** An outside host that the page asks something of. */
export interface PageHost {
  origin: string;
}

/** What each kind of rule is about. */
export interface AssetOf {
  script: PageScript;
  stylesheet: PageStyle;
  font: { url: string };
  'font-file': PageFont;
  image: PageImage;
  'image-file': PageImage;
  embed: PageEmbed;
  data: PageData;
  host: PageHost;
  next: NextAsset;
}

/**
 * A treatment: what may be done to one kind of asset. One file each in `treatments/`, listed in its index.
 *
 * @example
 * export const late: Treatment<'stylesheet'> = { id: 'late', kind: 'stylesheet', label: 'late', … };
 */
export interface Treatment<K extends RuleKind = RuleKind> {
  /** As plan files name it; with `kind` it is unique. */
  id: string;
  kind: K;
  /** As screens name it. */
  label: string;
  /** How much can go wrong with it where it is not refused, and what: "it runs whenever it arrives". */
  risk: { level: Risk; why: string };
  settings: v.GenericSchema;
  /** When a script runs with it; none where that is as authored. */
  moment?: Moment;
  /** Nothing is other than before but how soon files are asked for. */
  onlySooner?: true;
  /** What inline scripts become that read what this one defines, so that they still find it, the best first; none may follow where it is not said. */
  readersFollow?: readonly string[];
  /** Others that have to have it as well: all of them, or none. */
  companions?(asset: AssetOf[K], scene: Scene): readonly AssetOf[K][];
  /** Treatments of their own that those may have before: they end with this one, which does that as well. */
  absorbs?: readonly string[];
  /** What becomes of another asset that goes with this one under a rule's switch. */
  togetherBecomes?(asset: AssetOf[K], scene: Scene): string;
  /** Whether it is a choice for this asset at all. */
  isFor(asset: AssetOf[K], scene: Scene): boolean;
  /** Why this asset cannot have it, other scripts aside; null where it can. */
  refuses(asset: AssetOf[K], scene: Scene): Refusal | null;
  /** What has to be known with the choice. */
  note?(asset: AssetOf[K], scene: Scene): string | null;
  contributes(asset: AssetOf[K], scene: Scene): Contribution;
}

/** For treatments that have none. */
export const NO_SETTINGS = v.strictObject({});
