/** Kept until they are there: an image that nobody holds may be given up. */
const asked: HTMLImageElement[] = [];

/** Asks for images that stand nowhere on the page. */
export function askForImages(urls: readonly string[]): void {
  for (const url of urls) {
    const image = new Image();
    asked.push(image);
    image.src = url;
  }
}
