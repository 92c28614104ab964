import { createHash } from 'node:crypto';
import sharp from 'sharp';
import {
  LIGHTER_FORMATS,
  versionWidths,
  type FileOfSet,
  type ImageNeed,
  type LighterFormat,
  type LighterImage,
  type StaysReason,
} from '../../core/images/lighter.ts';
import type { ImageSize } from '../../core/images/image-size.ts';
import { isAnimatedPicture } from '../../core/frames/animated-picture.ts';
import { likeness } from './likeness.ts';

/** Qualities that are tried, the least first: the first that is like enough is taken. */
const QUALITIES: Record<LighterFormat, readonly number[]> = {
  avif: [45, 52, 60, 68, 76, 84],
  webp: [66, 74, 80, 86, 91, 95],
};
/**
 * A version has to be as like the original as a JPEG of this quality is, which photographs are commonly saved in: how like
 * that is depends on the picture, on its grain above all.
 */
const LIKE_JPEG = 80;
/** More than that nobody sees (SSIM). */
const LIKE_ENOUGH = 0.97;
/** The width at which the quality is chosen: what is true of one size is nearly so of the others. */
const TRIED_WIDTH = 800;
/** A version that saves less than this is not worth a file. */
const WORTH_IT = 0.9;
/** Of nine: on photographs twice the effort saves a hundredth, and takes ten times as long. */
const AVIF_EFFORT = 2;
/** What a browser shows of larger ones no phone could hold. */
const MOST_PIXELS = 60_000_000;

/** Versions of an image with their bytes by hash. */
export interface EncodedImage {
  image: Omit<LighterImage, 'url' | 'of'>;
  bodies: Map<string, Uint8Array>;
}

/** Where and how an image's file is shown. */
export interface ShownImage {
  needs: ImageNeed[];
  sizedByFile: boolean;
  /** The files that its markup chooses from by their widths, those that were captured with their bytes; null where it names this one alone. */
  set: { files: readonly FileOfSet[]; held: readonly Uint8Array[] } | null;
}

/** Writes an image's file anew at the widths that it is shown in; why not, where that cannot be, or is not lighter. */
export async function encodeVersions(
  original: Uint8Array,
  shown: ShownImage,
  signal?: AbortSignal,
): Promise<EncodedImage | StaysReason> {
  if (isAnimatedPicture(original)) return 'animated';
  try {
    return await versionsOf(original, shown, signal);
  } catch {
    signal?.throwIfAborted();
    // One that is damaged says so only when its pixels are read; the others are written all the same.
    return 'unreadable';
  }
}

async function versionsOf(
  original: Uint8Array,
  { needs, sizedByFile, set }: ShownImage,
  signal: AbortSignal | undefined,
): Promise<EncodedImage | StaysReason> {
  const metadata = await sharp(original, { limitInputPixels: MOST_PIXELS }).metadata();
  if (metadata.format === 'svg') return 'drawing';
  const { width, height } = metadata.autoOrient;
  const size = { width, height };
  // The profile of another colour space would be wrong for what is written.
  const keepsProfile = metadata.space === 'srgb';
  const sources = set
    ? await Promise.all(set.held.map(async (from) => ({ from, at: await sizeOf(from) })))
    : versionWidths(size, needs).map((width) => ({ from: original, at: atWidth(size, width) }));
  if (sources.length === 0 || needs.length === 0) return 'not shown';
  const image: EncodedImage['image'] = {
    bytes: original.length,
    size,
    needs,
    sizedByFile,
    ...(set ? { set: [...set.files] } : {}),
    versions: [],
    chosen: [],
  };
  const bodies = new Map<string, Uint8Array>();
  sources.sort((a, b) => a.at.width - b.at.width);
  const tried = sources.find(({ at }) => at.width >= Math.min(TRIED_WIDTH, sources.at(-1)!.at.width))!;
  const target = await likenessWanted(tried.from, tried.at);
  for (const format of LIGHTER_FORMATS) {
    const chosen = await chooseQuality(tried.from, tried.at, target, { format, keepsProfile }, signal);
    if (!chosen) continue;
    const made: { version: LighterImage['versions'][number]; body: Uint8Array; from: Uint8Array }[] = [];
    for (const { from, at } of sources) {
      signal?.throwIfAborted();
      const body = await encoded(from, at, { format, quality: chosen.quality, keepsProfile });
      const bodyHash = createHash('sha256').update(body).digest('hex');
      made.push({ version: { ...at, format, bodyHash, bytes: body.length }, body, from });
    }
    const lighter = made.filter(({ version, from }) => version.bytes <= from.length * WORTH_IT);
    if (lighter.length === 0) continue;
    image.versions.push(...lighter.map(({ version }) => version));
    image.chosen.push({ format, ...chosen });
    for (const { version, body } of lighter) bodies.set(version.bodyHash, body);
  }
  return withoutTheHeavier(image, bodies);
}

async function sizeOf(file: Uint8Array): Promise<ImageSize> {
  const { width, height } = (await sharp(file, { limitInputPixels: MOST_PIXELS }).metadata()).autoOrient;
  return { width, height };
}

/** A browser takes the first format that it knows: one that is heavier than the next is left out. */
function withoutTheHeavier(
  image: EncodedImage['image'],
  bodies: EncodedImage['bodies'],
): EncodedImage | 'not lighter' {
  const sum = (format: LighterFormat) =>
    image.versions.filter((one) => one.format === format).reduce((all, { bytes }) => all + bytes, 0);
  const [avif, webp] = [sum('avif'), sum('webp')];
  const versions =
    avif && webp && avif > webp ? image.versions.filter(({ format }) => format !== 'avif') : image.versions;
  if (versions.length === 0) return 'not lighter';
  const kept = new Set(versions.map((one) => one.bodyHash));
  return {
    image: {
      ...image,
      versions,
      chosen: image.chosen.filter(({ format }) => versions.some((one) => one.format === format)),
    },
    bodies: new Map([...bodies].filter(([hash]) => kept.has(hash))),
  };
}

function atWidth(size: ImageSize, width: number): ImageSize {
  return { width, height: Math.max(1, Math.round((width * size.height) / size.width)) };
}

/** The original at a size, turned as a camera has noted it. */
function resized(original: Uint8Array, { width, height }: ImageSize) {
  return sharp(original, { limitInputPixels: MOST_PIXELS })
    .autoOrient()
    .resize({ width, height, fit: 'fill', kernel: 'lanczos3' });
}

/** How a version is written. */
interface Writing {
  format: LighterFormat;
  quality: number;
  keepsProfile: boolean;
}

function encoded(
  original: Uint8Array,
  at: ImageSize,
  { format, quality, keepsProfile }: Writing,
): Promise<Buffer> {
  const own = resized(original, at);
  const picture = keepsProfile ? own.keepIccProfile() : own.toColourspace('srgb');
  return (
    format === 'avif'
      ? picture.avif({ quality, effort: AVIF_EFFORT })
      : picture.webp({ quality, effort: 5, smartSubsample: true })
  ).toBuffer();
}

/** How like the original a version has to be. */
async function likenessWanted(original: Uint8Array, at: ImageSize): Promise<number> {
  const jpeg = await resized(original, at)
    .flatten({ background: '#ffffff' })
    .jpeg({ quality: LIKE_JPEG })
    .toBuffer();
  return Math.min(LIKE_ENOUGH, await likeness(resized(original, at), sharp(jpeg)));
}

/** The least quality at which it is like enough; null where none is. */
async function chooseQuality(
  original: Uint8Array,
  at: ImageSize,
  target: number,
  how: Omit<Writing, 'quality'>,
  signal: AbortSignal | undefined,
): Promise<{ quality: number; likeness: number } | null> {
  const like = async (quality: number) => {
    signal?.throwIfAborted();
    return likeness(resized(original, at), sharp(await encoded(original, at, { ...how, quality })));
  };
  const qualities = QUALITIES[how.format];
  let found: { quality: number; likeness: number } | null = null;
  for (let low = 0, high = qualities.length - 1; low <= high;) {
    const middle = Math.floor((low + high) / 2);
    const quality = qualities[middle]!;
    const is = await like(quality);
    if (is >= target) {
      found = { quality, likeness: Math.round(is * 10_000) / 10_000 };
      high = middle - 1;
    } else low = middle + 1;
  }
  return found;
}
