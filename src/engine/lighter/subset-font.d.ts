declare module 'subset-font' {
  /** A font that has the signs of a text alone, with all that its rules make of them. @throws Error for what is no font */
  export default function subsetFont(
    font: Buffer,
    text: string,
    options: { targetFormat: 'sfnt' | 'woff' | 'woff2' },
  ): Promise<Buffer>;
}
