import { brotliCompressSync, constants, gzipSync } from 'node:zlib';
import type { ArchivedAnswer } from './archive.ts';

const GZIP_LEVELS = [1, 4, 6, 9];
const BROTLI_LEVELS = [1, 4, 5, 9, 11];

/**
 * Encodes a body at the level whose size comes nearest the captured wire size.
 *
 * @returns the bytes, and by how much of the captured size they deviate
 */
export function encodeNear(
  body: Uint8Array,
  near: NonNullable<ArchivedAnswer['encodeNear']>,
): { bytes: Buffer; deviation: number } {
  const levels = near.encoding === 'br' ? BROTLI_LEVELS : GZIP_LEVELS;
  let best: Buffer | null = null;
  for (const level of levels) {
    const bytes =
      near.encoding === 'br'
        ? brotliCompressSync(body, {
            params: {
              [constants.BROTLI_PARAM_QUALITY]: level,
              [constants.BROTLI_PARAM_SIZE_HINT]: body.length,
            },
          })
        : gzipSync(body, { level });
    if (!best || Math.abs(bytes.length - near.wireBytes) < Math.abs(best.length - near.wireBytes))
      best = bytes;
  }
  return { bytes: best!, deviation: near.wireBytes ? (best!.length - near.wireBytes) / near.wireBytes : 0 };
}
