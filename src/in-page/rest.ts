const STILL =
  '*,*::before,*::after{animation:none!important;transition:none!important;caret-color:transparent!important}';

/** Freezes what moves by itself, and waits until fonts are there and it is all drawn. */
export async function holdStill(): Promise<void> {
  // A style element would fall under the page's Content-Security-Policy.
  const still = new CSSStyleSheet();
  still.replaceSync(STILL);
  document.adoptedStyleSheets = [...document.adoptedStyleSheets, still];
  await fontsThere();
}

/** Waits until the fonts that the page as it is now asks for are there, and it is all drawn. */
export async function fontsThere(): Promise<void> {
  // What has just been made to apply asks for its fonts only once it is laid out.
  document.documentElement.getBoundingClientRect();
  const fonts = document.fonts.ready.then(() => undefined);
  await Promise.race([fonts, new Promise((resolve) => setTimeout(resolve, 3_000))]);
  await twoFrames();
}

/** Until what was changed is laid out and drawn. */
export async function twoFrames(): Promise<void> {
  for (let frame = 0; frame < 2; frame++) await new Promise((resolve) => requestAnimationFrame(resolve));
}
