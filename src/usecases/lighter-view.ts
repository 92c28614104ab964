import {
  behindVersions,
  bytesNow,
  bytesOn,
  formatsOf,
  LAPTOP,
  PHONE,
  type LighterImage,
} from '../core/images/lighter.ts';
import type { PageImage } from '../core/images/page-images.ts';
import type { CapturedPage } from '../core/page/captured-page.ts';
import { activeRules, sameMatch, type Plan } from '../core/treat/plan.ts';
import { loneRefusal } from '../core/treat/lone.ts';
import type { Scene } from '../core/treat/treatment.ts';
import { imageLighter } from '../core/treat/treatments/image-lighter.ts';
import { refusalWords } from '../core/words/refusals.ts';
import { bytes } from '../core/path/words.ts';
import { lighterSentence, staysWords } from '../core/words/lighter-images.ts';
import type { Queries } from '../store/database.ts';
import { lighterOf } from '../store/lighter-images.ts';
import { whyLighterStale } from './lighter-images.ts';
import type { MeasuredPage } from './stored-page.ts';

/** What a screen tells of a page's lighter images. */
export type LighterView =
  | { state: 'none'; count: number; bytes: number }
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
      stay: { url: string; why: string }[];
      /** Files of images that are new, or others than those that were looked at. */
      unmade: string[];
    };

/** What is told of them; null where the page shows no image. */
export async function lighterView(
  queries: Queries,
  pageId: number,
  page: MeasuredPage,
  scene: Scene,
  plan: Plan,
): Promise<LighterView | null> {
  const own = scene.images;
  if (own.length === 0) return null;
  const stored = await lighterOf(queries, pageId);
  if (!stored) return { state: 'none', count: own.length, bytes: bytesOf(page.assets.captured, own) };
  const reasons = whyLighterStale(stored, page.captureId, page.capture, page.bodies);
  if (reasons.length) return { state: 'stale', reasons };
  const made = page.capture.lighter ?? stored;
  const known = new Set([...made.images, ...made.stay].map(({ url }) => url));
  return {
    state: 'made',
    sentence: lighterSentence(made),
    rows: made.images.map((image) => ({
      url: image.url,
      asAuthored: asAuthored(image),
      phoneBytes: bytesOn(image, PHONE.width, PHONE.density),
      laptopBytes: bytesOn(image, LAPTOP.width, LAPTOP.density),
      widths: widthsOf(image),
      chosen: image.chosen
        .map((one) => `${one.format.toUpperCase()} ${(one.likeness * 100).toFixed(1)} %`)
        .join(', '),
      use: useOf(scene, plan, image.url),
    })),
    stay: made.stay.map(({ url, why }) => ({ url, why: staysWords(why) })),
    unmade: own.map(({ url }) => url).filter((url) => !known.has(url)),
  };
}

function asAuthored(image: LighterImage): string {
  if (!image.set) return bytes(image.bytes);
  return [PHONE, LAPTOP].map(({ width, density }) => bytes(bytesNow(image, width, density))).join(', ');
}

function useOf(scene: Scene, plan: Plan, url: string): string {
  const match = { url };
  if (activeRules(plan).some((rule) => rule.kind === 'image-file' && sameMatch(rule.match, match)))
    return 'yes';
  const refusal = loneRefusal(scene, 'image-file', match, imageLighter.id);
  if (refusal) return `refused: ${refusalWords(refusal)}`;
  return plan.rules.some((rule) => rule.kind === 'image-file' && sameMatch(rule.match, match))
    ? 'no: switched off'
    : 'no: it saves too little';
}

function bytesOf(page: CapturedPage, images: readonly PageImage[]): number {
  return images.reduce((sum, { url }) => sum + (page.exchange(url)?.bodyBytes ?? 0), 0);
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
