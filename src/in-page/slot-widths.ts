/** A GIF of one pixel: said to be one pixel wide in a `srcset`, it is as wide as `sizes` says. */
const PIXEL = 'data:image/gif;base64,R0lGODlhAQABAAAAACH5BAEKAAEALAAAAAABAAEAAAICTAEAOw==';

/**
 * How wide `sizes` attributes say that images are at this width of the viewport, CSS px (HTML, "sizes"): the files that a
 * page chooses from need not be there for it. 0 where that cannot be told.
 */
export function slotWidths(all: readonly string[]): Promise<number[]> {
  return Promise.all(
    all.map(async (sizes) => {
      const image = new Image();
      image.sizes = sizes;
      image.srcset = `${PIXEL} 1w`;
      try {
        await image.decode();
        return image.naturalWidth;
      } catch {
        // The page lets no such image in.
        return 0;
      }
    }),
  );
}
