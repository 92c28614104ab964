import { transform } from 'lightningcss';

/** Minifies a sheet; one that the minifier will not take stays as it is. The proof is of the result. */
export function minifyCss(css: string): string {
  try {
    return transform({ filename: 'fold.css', code: Buffer.from(css), minify: true }).code.toString();
  } catch {
    return css;
  }
}
