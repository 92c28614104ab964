import { mkdir } from 'node:fs/promises';
import { join } from 'node:path';
import sharp from 'sharp';

/** Draws the demo's pictures: sea, islands and a ferry, with enough grain to weigh what photographs weigh. */
async function draw(
  name: string,
  width: number,
  height: number,
  hue: number,
  seed: number,
  quality: number,
): Promise<void> {
  let state = seed;
  const random = () => {
    state = (state * 1_103_515_245 + 12_345) % 2 ** 31;
    return state / 2 ** 31;
  };
  const hills = Array.from({ length: 3 }, (_, layer) => {
    const base = height * (0.42 + layer * 0.08);
    const points = Array.from(
      { length: 13 },
      (_, i) => `${(i * width) / 12},${base - random() * height * 0.16}`,
    );
    return `<polygon points="0,${height} ${points.join(' ')} ${width},${height}" fill="hsl(${hue + layer * 8} 24% ${52 - layer * 12}%)"/>`;
  });
  const waves = Array.from({ length: 90 }, () => {
    const y = height * (0.62 + random() * 0.38);
    const x = random() * width;
    return `<path d="M${x} ${y} q ${20 + random() * 60} ${-6 - random() * 8} ${60 + random() * 120} 0" stroke="hsl(${hue} 40% ${60 + random() * 25}%)" stroke-width="${1 + random() * 3}" fill="none" opacity=".6"/>`;
  });
  const x = width * (0.3 + random() * 0.3);
  const y = height * 0.66;
  const u = width / 14;
  const ferry = `<g><polygon points="${x},${y} ${x + 4 * u},${y} ${x + 3.5 * u},${y + 0.7 * u} ${x + 0.4 * u},${y + 0.7 * u}" fill="#22333b"/>
    <rect x="${x + 0.6 * u}" y="${y - 0.7 * u}" width="${2.4 * u}" height="${0.7 * u}" fill="#fdfcf7"/>
    <rect x="${x + 1.8 * u}" y="${y - 1.3 * u}" width="${0.5 * u}" height="${0.6 * u}" fill="#a8641a"/></g>`;
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}">
    <defs><linearGradient id="s" x1="0" y1="0" x2="0" y2="1"><stop offset="0" stop-color="hsl(${hue} 45% 82%)"/><stop offset="1" stop-color="hsl(${hue - 10} 38% 42%)"/></linearGradient></defs>
    <rect width="100%" height="100%" fill="url(#s)"/>${hills.join('')}
    <rect y="${height * 0.6}" width="100%" height="${height * 0.4}" fill="hsl(${hue} 36% 40%)" opacity=".85"/>${waves.join('')}${ferry}</svg>`;
  const grain = Buffer.alloc(width * height * 3);
  for (let i = 0; i < grain.length; i += 3) {
    const tone = 110 + Math.floor(random() * 36);
    grain[i] = grain[i + 1] = grain[i + 2] = tone;
  }
  const overlay = await sharp(grain, { raw: { width, height, channels: 3 } })
    .png()
    .toBuffer();
  await sharp(Buffer.from(svg))
    .composite([{ input: overlay, blend: 'soft-light' }])
    .jpeg({ quality })
    .toFile(join(import.meta.dirname, 'assets', `${name}.jpg`));
}

await mkdir(join(import.meta.dirname, 'assets'), { recursive: true });
await draw('hero', 1440, 620, 205, 11, 84);
await draw('news-1', 640, 400, 200, 23, 60);
await draw('news-2', 640, 400, 24, 37, 60);
await draw('news-3', 640, 400, 260, 53, 60);
