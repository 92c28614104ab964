import {
  behindVersions,
  bytesNow,
  bytesOn,
  formatsOf,
  LAPTOP,
  PHONE,
  type LighterImage,
} from '../core/images/lighter.ts';
import { embedName } from '../core/embeds/page-embeds.ts';
import { fontsToCut } from '../core/fonts/page-fonts.ts';
import type { CapturedPage } from '../core/page/captured-page.ts';
import { activeRules, sameMatch, type Plan } from '../core/treat/plan.ts';
import { loneRefusal } from '../core/treat/lone.ts';
import type { Scene } from '../core/treat/treatment.ts';
import { fontSubset } from '../core/treat/treatments/font-subset.ts';
import { embedOnPress } from '../core/treat/treatments/embed-on-press.ts';
import { imageLighter } from '../core/treat/treatments/image-lighter.ts';
import { refusalWords } from '../core/words/refusals.ts';
import { fileNameOf } from '../core/path/names.ts';
import { bytes } from '../core/path/words.ts';
import {
  embedPicturesSentence,
  fontStaysWords,
  lighterSentence,
  smallerFontsSentence,
  staysWords,
} from '../core/words/lighter-files.ts';
import type { Queries } from '../store/database.ts';
import { lighterOf } from '../store/lighter-files.ts';
import { whyLighterStale } from './lighter-files.ts';
import type { MeasuredPage } from './stored-page.ts';

/** Files of one kind: how many, and how large. */
interface Files {
  count: number;
  bytes: number;
}

/** What a screen tells of a page's lighter files. */
export type LighterView =
  | { state: 'none'; images: Files; fonts: Files; embeds: number }
  | { state: 'stale'; reasons: string[] }
  | {
      state: 'made';
      sentence: string;
      rows: {
        url: string;
        /** Its bytes as authored; where the markup chooses between files, a phone's and a laptop's. */
        asAuthored: string;
        phoneBytes: number;
        laptopBytes: number;
        widths: string;
        chosen: string;
        /** Whether the plan puts it into the page, or why it may not. */
        use: string;
      }[];
      fonts: {
        url: string;
        bytes: number;
        smallerBytes: number;
        signs: number;
        /** Of how many captured pages. */
        pages: number;
        use: string;
      }[];
      /** With the bytes of the picture that was made of each; null where none was. */
      embeds: { url: string; name: string; bytes: number | null; use: string }[];
      stay: { url: string; why: string }[];
      /** Files that are new, or others than those that were looked at. */
      unmade: string[];
    };

/** What is told of them; null where the page shows no image and no embed, and has no font of which less could be made. */
export async function lighterView(
  queries: Queries,
  pageId: number,
  page: MeasuredPage,
  scene: Scene,
  plan: Plan,
): Promise<LighterView | null> {
  const { images, embeds } = scene;
  const fonts = fontsToCut(page.assets.captured);
  if (images.length + fonts.length + embeds.length === 0) return null;
  const stored = await lighterOf(queries, pageId);
  if (!stored) {
    const { captured } = page.assets;
    return {
      state: 'none',
      images: filesOf(captured, images),
      fonts: filesOf(captured, fonts),
      embeds: embeds.length,
    };
  }
  const reasons = whyLighterStale(stored, page.captureId, page.capture, page.bodies);
  if (reasons.length) return { state: 'stale', reasons };
  const made = page.capture.lighter ?? stored;
  const used = made.images.filter(({ url }) => isUsed(plan, 'image-file', url));
  const usedFonts = made.fonts.filter(({ url }) => isUsed(plan, 'font-file', url));
  const known = new Set(
    [...made.images, ...made.stay, ...made.fonts, ...made.fontsStay].map(({ url }) => url),
  );
  return {
    state: 'made',
    sentence: [
      ...(images.length ? [lighterSentence(used, made.images.length)] : []),
      ...(made.fonts.length + made.fontsStay.length
        ? [smallerFontsSentence(usedFonts, made.fonts.length)]
        : []),
      ...(made.embeds.length ? [embedPicturesSentence(made.embeds.length)] : []),
    ].join(' '),
    rows: made.images.map((image) => ({
      url: image.url,
      asAuthored: asAuthored(image),
      phoneBytes: bytesOn(image, PHONE.width, PHONE.density),
      laptopBytes: bytesOn(image, LAPTOP.width, LAPTOP.density),
      widths: widthsOf(image),
      chosen: image.chosen
        .map((one) => `${one.format.toUpperCase()} ${(one.likeness * 100).toFixed(1)} %`)
        .join(', '),
      use: useOf(scene, plan, image.url, 'image-file'),
    })),
    fonts: made.fonts.map(({ url, bytes: asAuthored, smaller, ranges, pages }) => ({
      url,
      bytes: asAuthored,
      smallerBytes: smaller.bytes,
      pages,
      signs: ranges.reduce((sum, [low, high]) => sum + high - low + 1, 0),
      use: useOf(scene, plan, url, 'font-file'),
    })),
    embeds: embeds.map((embed) => ({
      url: embed.url,
      name: embedName(embed) ?? fileNameOf(embed.url),
      bytes: embed.picture?.bytes ?? null,
      use: standInUse(scene, plan, embed.url),
    })),
    stay: [
      ...made.stay.map(({ url, why }) => ({ url, why: staysWords(why) })),
      ...made.fontsStay.map(({ url, why }) => ({ url, why: fontStaysWords(why) })),
    ],
    unmade: [...images, ...fonts].map(({ url }) => url).filter((url) => !known.has(url)),
  };
}

function asAuthored(image: LighterImage): string {
  if (!image.set) return bytes(image.bytes);
  return [PHONE, LAPTOP].map(({ width, density }) => bytes(bytesNow(image, width, density))).join(', ');
}

type FileKind = 'image-file' | 'font-file';

function isUsed(plan: Plan, kind: FileKind, url: string): boolean {
  return activeRules(plan).some((rule) => rule.kind === kind && sameMatch(rule.match, { url }));
}

function useOf(scene: Scene, plan: Plan, url: string, kind: FileKind): string {
  if (isUsed(plan, kind, url)) return 'yes';
  const match = { url };
  const treatment = kind === 'image-file' ? imageLighter : fontSubset;
  const refusal = loneRefusal(scene, kind, match, treatment.id);
  if (refusal) return `refused: ${refusalWords(refusal)}`;
  const rule = plan.rules.find((one) => one.kind === kind && sameMatch(one.match, match));
  if (!rule) return 'no: it saves too little';
  return rule.treatment === 'as-authored' ? 'no: left as authored' : 'no: switched off';
}

function standInUse(scene: Scene, plan: Plan, url: string): string {
  const isUsed = activeRules(plan).some(
    ({ kind, treatment, match }) =>
      kind === 'embed' && treatment === embedOnPress.id && sameMatch(match, { url }),
  );
  if (isUsed) return 'in the plan';
  const refusal = loneRefusal(scene, 'embed', { url }, embedOnPress.id);
  return refusal
    ? `refused: ${refusalWords(refusal)}`
    : `not in the plan: “${embedOnPress.label}” is a choice of the embed’s own`;
}

function filesOf(page: CapturedPage, files: readonly { url: string }[]): Files {
  const bytes = files.reduce((sum, { url }) => sum + (page.exchange(url)?.bodyBytes ?? 0), 0);
  return { count: files.length, bytes };
}

function widthsOf(image: LighterImage): string {
  const [format] = formatsOf(image);
  if (image.behind && format) {
    const { wide, narrow } = behindVersions(image, format);
    return [narrow, wide].flatMap((one) => one?.width ?? []).join(' ');
  }
  return image.versions
    .filter((one) => one.format === format)
    .map(({ width }) => width)
    .join(' ');
}
