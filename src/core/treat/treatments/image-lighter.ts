import { NARROW, type BehindOption } from '../../images/behind-files.ts';
import {
  behindVersions,
  bytesNow,
  bytesOn,
  formatsOf,
  LAPTOP,
  LIGHTER_MARK as MARK,
  needsFileItself,
  PHONE,
  sizesOf,
  type LighterImage,
  type LighterVersion,
} from '../../images/lighter.ts';
import { styledWith } from '../../images/behind.ts';
import type { ChosenSet, PageImage } from '../../images/page-images.ts';
import { ownPreloads } from '../../hints/own-preloads.ts';
import type { HtmlElement } from '../../html/document.ts';
import { attribute } from '../../html/markup.ts';
import type { PageAssets } from '../../page/page-assets.ts';
import { bytes } from '../../path/words.ts';
import { alsoBehindRefusal, behindRefusal } from '../behind-refusal.ts';
import { styleBeside } from '../style-beside.ts';
import type { ChosenFile, Contribution, NewFile } from '../contribution.ts';
import { addressIn, newFile, stemOf } from '../new-files.ts';
import { ownFileRefusal, policyRefusal } from '../policy.ts';
import type { Refusal } from '../refusal.ts';
import { NO_SETTINGS, type Scene, type Treatment } from '../treatment.ts';

/**
 * A `<picture>` of ours has no box, whatever the page's styles say of pictures, so that the image is laid out as without
 * it: a layer that comes first outweighs all others where it is important (CSS Cascade 5, section 6.4). An image that is as
 * large as its file is given that size by the source, and its height back where it is narrowed. Its sources would have boxes
 * of no size, which rows with gaps make room for.
 */
const HAS_NO_BOX = `@layer wistrel-room{picture[${MARK}]{display:contents!important}picture[${MARK}]>source{display:none!important}:where(picture[${MARK}=room]>img){height:auto}}`;

/** Who gives an image another address means that one: sources would go on winning over it. */
const GIVES_WAY = `new MutationObserver(l=>l.forEach(({target:t})=>t.matches("picture[${MARK}]>img")&&t.parentNode.querySelectorAll("source").forEach(s=>s.remove()))).observe(document,{subtree:true,attributes:true,attributeFilter:["src","srcset"]})`;

/** The same picture in fewer bytes: as wide as it is shown, in a format of today. Its own file stays for browsers that know neither. */
export const imageLighter: Treatment<'image-file'> = {
  id: 'lighter',
  kind: 'image-file',
  label: 'lighter files',
  risk: {
    level: 'medium',
    why: 'a script that looks for an image right inside its parent finds it one element deeper; what stands behind elements stays where it is',
  },
  settings: NO_SETTINGS,
  isFor: ({ elements, behind }) => elements.length > 0 || behind !== null,
  refuses(image, { page }) {
    if (!image.lighter) return { code: 'no-lighter-files' };
    const [preload] = image.urls.flatMap((one) => ownPreloads(page, one));
    if (preload) return { code: 'asked-ahead', line: preload.line };
    const refusal = image.behind === null ? inMarkupRefusal(image, page) : behindRefusal(page, image.url);
    return refusal ?? ownFileRefusal(page, 'image', null);
  },
  note: ({ lighter }) =>
    lighter &&
    `${lighter.set ? '' : `${bytes(lighter.bytes)} now; `}on a phone ${sayBytes(lighter, PHONE)}, on a laptop ${sayBytes(lighter, LAPTOP)}`,
  contributes(image, scene) {
    const lighter = image.lighter!;
    if (image.behind !== null) return lighterBehind(image, lighter, scene);
    const files = new Map(
      lighter.versions.map((version) => [version, fileOf(scene, image, version)] as const),
    );
    return {
      files: [...files.values()],
      wraps: image.elements.map((element) => {
        if (image.set) return wrapped(element, MARK, setOf(scene, image.set, lighter, files, element));
        const byFile = lighter.sizedByFile && !saysWidth(element.attributes);
        // With the value it keeps the room which the file itself would have taken.
        const mark = byFile ? `${MARK}="room"` : MARK;
        const size = byFile
          ? attribute('width', String(lighter.size.width)) + attribute('height', String(lighter.size.height))
          : '';
        return wrapped(element, mark, sourcesOf(scene, lighter, files, size));
      }),
      headStyles: [{ text: HAS_NO_BOX, title: 'What lets images be laid out as before' }],
      headScripts: [{ text: GIVES_WAY, title: 'What lets scripts give an image another file' }],
      takenOut: image.set ? lightened(image.set, lighter) : [image.url],
    };
  },
};

function sayBytes(image: LighterImage, { width, density }: typeof PHONE | typeof LAPTOP): string {
  const now = image.set ? ` of ${bytes(bytesNow(image, width, density))}` : '';
  return bytes(bytesOn(image, width, density)) + now;
}

function wrapped(element: HtmlElement, mark: string, sources: string) {
  return { element, before: `<picture ${mark}>${sources}`, after: '</picture>' };
}

/** Files of a set that are not asked for any more. */
function lightened({ files }: ChosenSet, { versions }: LighterImage): string[] {
  return files.filter(({ width }) => versions.some((one) => one.width === width)).map(({ url }) => url);
}

function inMarkupRefusal(image: PageImage, page: PageAssets): Refusal | null {
  const { urls, choosesFile, set, placeToldBy, heightSetBy, lighter, elements } = image;
  if (choosesFile && !set) return { code: 'chooses-file' };
  if (set && !lighter?.set) return { code: 'no-lighter-files' };
  if (placeToldBy !== null) return { code: 'place-told', by: placeToldBy };
  const also = urls.flatMap((one) => alsoBehindRefusal(page, one) ?? [])[0];
  if (also) return also;
  const fixed = !set && lighter?.sizedByFile && elements.some((one) => !saysWidth(one.attributes));
  if (fixed && heightSetBy !== null) return { code: 'height-set', by: heightSetBy };
  return policyRefusal(page, [['style'], ['script']]);
}

/** Other files beside one that styles name, as a set of which a browser takes the first that it knows (CSS Images 4, 2.2). */
function lighterBehind(image: PageImage, lighter: LighterImage, scene: Scene): Contribution {
  const used = formatsOf(lighter).map((format) => {
    const { wide, narrow } = behindVersions(lighter, format);
    return { format, wide, narrow };
  });
  const files = new Map(
    used.flatMap(({ wide, narrow }) =>
      [wide, narrow].flatMap((one) => (one ? [[one, fileOf(scene, image, one)] as const] : [])),
    ),
  );
  const optionsFor = (which: 'wide' | 'narrow') => {
    const options = used.flatMap((one): BehindOption[] => {
      const version = one[which];
      if (!version) return [];
      const density = version.width / lighter.size.width;
      return [{ url: files.get(version)!.url, density, type: `image/${one.format}` }];
    });
    return options.length ? options : null;
  };
  const [wide, narrow] = [optionsFor('wide'), optionsFor('narrow')];
  const beside = new Map([[image.url, { wide, narrow }]]);
  return {
    files: [...files.values()],
    elements: wide
      ? styledWith(scene.page.captured, image.url).map((element) => ({
          element,
          attributes: { style: styleBeside(scene.page, element, beside) },
        }))
      : [],
    behind: beside,
    chosen: new Map([[image.url, chosenOf(image, wide?.[0], narrow?.[0], scene)]]),
    takenOut: [image.url],
  };
}

/** What of them is asked for ahead: the lightest, where a browser knows its format. */
function chosenOf(
  { url }: PageImage,
  wide: BehindOption | undefined,
  narrow: BehindOption | undefined,
  { page }: Scene,
): ChosenFile[] {
  const asked = (option: BehindOption | undefined, media: string | null) => ({
    href: addressIn(page, option?.url ?? url),
    type: option?.type ?? null,
    media,
  });
  return narrow ? [asked(wide, `not all and ${NARROW}`), asked(narrow, NARROW)] : [asked(wide, null)];
}

function saysWidth(attributes: Readonly<Record<string, string>>): boolean {
  return attributes['width'] !== undefined;
}

function fileOf({ page }: Scene, image: PageImage, { format, width, bodyHash }: LighterVersion): NewFile {
  // Of a set each is named as the file that it is of.
  const own = image.set?.files.find((one) => one.width === width)?.url;
  const stem = stemOf(own ?? image.url);
  const name = own ? stem || `image-${width}` : `${stem || 'image'}-${width}`;
  return newFile(page, name, format, `image/${format}`, page.captured.bodyOf(bodyHash)!);
}

function sourcesOf(
  { page }: Scene,
  image: LighterImage,
  files: ReadonlyMap<LighterVersion, NewFile>,
  size: string,
): string {
  return formatsOf(image)
    .map((format) => {
      const versions = image.versions.filter((one) => one.format === format);
      const candidates = [
        ...versions.map((version) => `${addressIn(page, files.get(version)!.url)} ${version.width}w`),
        // A source's type says what is to be known for choosing it, not what each of its files is.
        ...(needsFileItself(image, format) ? [`${candidateUrl(page, image.url)} ${image.size.width}w`] : []),
      ];
      return `<source type="image/${format}"${attribute('srcset', candidates.join(', '))}${attribute('sizes', sizesOf(image.needs))}${size}>`;
    })
    .join('');
}

/**
 * Sources with the files that the markup chooses from, lighter where there are such, as it says them, and with its own
 * `sizes`: on each screen the same one is chosen as before, and the image is as wide as it was where no style says it.
 */
function setOf(
  { page }: Scene,
  { by, files: set }: ChosenSet,
  image: LighterImage,
  files: ReadonlyMap<LighterVersion, NewFile>,
  { attributes }: HtmlElement,
): string {
  const unit = by === 'width' ? 'w' : 'x';
  const sizes =
    by === 'density' || attributes['sizes'] === undefined ? '' : attribute('sizes', attributes['sizes']);
  return formatsOf(image)
    .map((format) => {
      const candidates = set.map(({ url, says, width }) => {
        const version = image.versions.find((one) => one.format === format && one.width === width);
        return `${version ? addressIn(page, files.get(version)!.url) : candidateUrl(page, url)} ${says}${unit}`;
      });
      return `<source type="image/${format}"${attribute('srcset', candidates.join(', '))}${sizes}>`;
    })
    .join('');
}

/** An address as a candidate of a srcset: a comma at its end would be the list's own (HTML, "parse a srcset attribute"). */
function candidateUrl(page: Scene['page'], url: string): string {
  return addressIn(page, url).replace(/,$/, '%2C');
}
