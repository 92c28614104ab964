import { resolve } from '../html/assets.ts';
import type { EmbedPicture } from './embed-picture.ts';
import type { HtmlElement } from '../html/document.ts';
import type { CapturedPage } from '../page/captured-page.ts';

/** Another page that `<iframe>` elements of this one show: a map, a film, a chat. */
export interface PageEmbed {
  url: string;
  elements: readonly HtmlElement[];
  /** Whether it stood on the first screen when the page was captured; null where it stood nowhere, or nobody looked. */
  aboveFold: boolean | null;
  /** What it showed; null where no picture was made of it, or it showed nothing. */
  picture: EmbedPicture | null;
}

/** The pages that a page shows in itself, in the order of their first elements; what scripts put in is theirs. */
export function readEmbeds(page: CapturedPage): PageEmbed[] {
  const { boxes, embedsBelow } = page.capture.observations;
  // A place within what it shows, as maps have it, is no part of its address here.
  const bare = (url: string) => resolve(url, page.baseUrl);
  const above = new Set(boxes.flatMap(({ tag, url }) => (tag === 'iframe' && url ? [bare(url)] : [])));
  const below = new Set(embedsBelow.map(bare));
  const pictures = page.capture.lighter?.embeds ?? [];
  const embeds = new Map<string, PageEmbed>();
  for (const element of page.document.elements) {
    const { src, srcdoc } = element.attributes;
    // What its own markup says goes before its address (HTML, "process the iframe attributes").
    if (element.tag !== 'iframe' || element.inert || src === undefined || srcdoc !== undefined) continue;
    const url = resolve(src, page.baseUrl);
    if (url === null || !/^https?:/.test(url)) continue;
    embeds.set(url, {
      url,
      elements: [...(embeds.get(url)?.elements ?? []), element],
      picture: pictures.find((one) => one.url === url) ?? null,
      aboveFold: above.has(url) ? true : below.has(url) ? false : null,
    });
  }
  return [...embeds.values()];
}

/** What a page calls an embed: its title, which is there for those who do not see it. */
export function embedName({ elements }: PageEmbed): string | null {
  return elements.map((one) => one.attributes['title']?.trim()).find(Boolean) ?? null;
}

/** Of a longer title the beginning is told. */
const LONGEST_TITLE = 60;

/** How an address is told on a page: by the title of the embed that it is of; as it is where it is of none, or has none. */
export function titledAddress(embeds: readonly PageEmbed[], url: string): string {
  const embed = embeds.find((one) => one.url === url);
  const name = embed && embedName(embed);
  if (!name) return url;
  return name.length > LONGEST_TITLE ? `${name.slice(0, LONGEST_TITLE)}…` : name;
}
