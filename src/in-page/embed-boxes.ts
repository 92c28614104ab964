import { twoFrames } from './rest.ts';

/** Where an embed stands, CSS px of the page; without a size where it is not shown. */
export interface EmbedBox {
  /** Its address, without fragment. */
  url: string;
  left: number;
  top: number;
  width: number;
  height: number;
}

/** Every embed of the page with what its page is shown in: its borders and padding are the frame's. */
export function embedBoxes(): EmbedBox[] {
  return [...document.querySelectorAll('iframe')].map((frame) => {
    const box = frame.getBoundingClientRect();
    const style = getComputedStyle(frame);
    const px = (property: string) => parseFloat(style.getPropertyValue(property)) || 0;
    const isShown = style.visibility === 'visible';
    const before = { x: px('padding-left') + frame.clientLeft, y: px('padding-top') + frame.clientTop };
    return {
      url: frame.src.replace(/#.*$/, ''),
      left: box.left + scrollX + before.x,
      top: box.top + scrollY + before.y,
      width: isShown ? frame.clientWidth - px('padding-left') - px('padding-right') : 0,
      height: isShown ? frame.clientHeight - px('padding-top') - px('padding-bottom') : 0,
    };
  });
}

/** Hides all but the page's embeds, in their places: what lies over one is not its picture. */
export async function showEmbedsAlone(): Promise<void> {
  const alone = new CSSStyleSheet();
  alone.replaceSync('*{visibility:hidden!important}iframe{visibility:visible!important}');
  document.adoptedStyleSheets = [...document.adoptedStyleSheets, alone];
  await twoFrames();
}
