/** Where an embed stands, CSS px of the page. */
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
    const before = { x: px('padding-left') + frame.clientLeft, y: px('padding-top') + frame.clientTop };
    return {
      url: frame.src.replace(/#.*$/, ''),
      left: box.left + scrollX + before.x,
      top: box.top + scrollY + before.y,
      width: frame.clientWidth - px('padding-left') - px('padding-right'),
      height: frame.clientHeight - px('padding-top') - px('padding-bottom'),
    };
  });
}
