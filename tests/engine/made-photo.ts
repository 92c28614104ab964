import sharp from 'sharp';

/** A picture with waves, an edge and some grain, as photographs have. */
export function photo(width: number, height: number, alpha = false) {
  const channels = alpha ? 4 : 3;
  const data = Buffer.alloc(width * height * channels);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const at = (y * width + x) * channels;
      const grain = ((x * 7_919 + y * 104_729) % 23) - 11;
      data[at] = 120 + 60 * Math.sin(x / 40) + grain;
      data[at + 1] = y > height * 0.6 ? 60 + grain : 170 + grain;
      data[at + 2] = 140 + 50 * Math.cos((x + y) / 60) + grain;
      if (alpha) data[at + 3] = x < width / 4 ? 0 : 255;
    }
  return sharp(data, { raw: { width, height, channels } });
}
