declare module 'fontverter' {
  /** A font file in another packing. @throws Error for what is no font */
  export function convert(font: Buffer, to: 'sfnt' | 'woff' | 'woff2'): Promise<Buffer>;
}
