/** How a picture of an image's file is drawn, wherever one shows it. */
export interface ImageBox {
  /** The address of the file that is shown. */
  url: string;
  /** The file's own size, px. */
  natural: { width: number; height: number };
  /** How wide the whole of its picture is drawn, CSS px; 0 where it is not laid out. */
  width: number;
  /** Neither a style nor an attribute says how wide it is. */
  sizedByFile: boolean;
}

/** Every image of the page with how wide it is drawn: where it is cut to fill its box, what is cut off counts. */
export function imageBoxes(): ImageBox[] {
  return [...document.images].map((image) => {
    const { naturalWidth, naturalHeight } = image;
    const style = getComputedStyle(image);
    const { width, height } = contentBox(image, style);
    const ratio = naturalHeight > 0 ? naturalWidth / naturalHeight : 0;
    return {
      url: image.currentSrc || image.src,
      natural: { width: naturalWidth, height: naturalHeight },
      width: drawnWidth(style.objectFit, width, height, ratio, naturalWidth),
      sizedByFile: isAuto(image, 'width'),
    };
  });
}

function contentBox(image: HTMLImageElement, style: CSSStyleDeclaration): { width: number; height: number } {
  const { width, height } = image.getBoundingClientRect();
  const taken = (sides: readonly string[]) =>
    sides.reduce(
      (sum, side) =>
        sum +
        (parseFloat(style.getPropertyValue(`padding-${side}`)) || 0) +
        (parseFloat(style.getPropertyValue(`border-${side}-width`)) || 0),
      0,
    );
  return {
    width: Math.max(0, width - taken(['left', 'right'])),
    height: Math.max(0, height - taken(['top', 'bottom'])),
  };
}

/** CSS Images 3, "object-fit". */
function drawnWidth(fit: string, width: number, height: number, ratio: number, natural: number): number {
  if (!(width > 0 && height > 0) || !(ratio > 0)) return 0;
  if (fit === 'cover') return Math.max(width, height * ratio);
  if (fit === 'contain') return Math.min(width, height * ratio);
  if (fit === 'scale-down') return Math.min(natural, width, height * ratio);
  return fit === 'none' ? natural : width;
}

/** Whether nothing says it: of an attribute the computed value is a length as well. */
function isAuto(image: HTMLImageElement, property: string): boolean {
  const value = image.computedStyleMap().get(property);
  return value instanceof CSSKeywordValue && value.value === 'auto';
}
