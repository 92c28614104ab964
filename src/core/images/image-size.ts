/** A size in pixels. */
export interface ImageSize {
  width: number;
  height: number;
}
