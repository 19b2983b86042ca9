import { crc32, deflateSync } from 'node:zlib';
import { seededRandom } from '@basitax/core/document/ids';

const [width, height] = [96, 54];

/** Sixteen colours from the deep to the moon. */
const palette = [
  [4, 10, 22],
  [6, 18, 36],
  [8, 27, 52],
  [10, 38, 68],
  [13, 51, 84],
  [18, 66, 100],
  [27, 84, 116],
  [42, 105, 132],
  [64, 128, 147],
  [96, 154, 162],
  [138, 184, 180],
  [190, 214, 202],
  [12, 58, 46],
  [34, 96, 62],
  [120, 240, 214],
  [250, 232, 176],
] as const;

/** A checksum per piece, as the PNG standard has it. */
function piece(type: string, data: Buffer): Buffer {
  const body = Buffer.concat([Buffer.from(type, 'latin1'), data]);
  const out = Buffer.alloc(body.length + 8);
  out.writeUInt32BE(data.length, 0);
  body.copy(out, 4);
  out.writeUInt32BE(crc32(body) >>> 0, body.length + 4);
  return out;
}

/** Sixteen colours to a PNG (W3C PNG, third edition: palette, four bits a pixel, no filter). */
function png(pixels: Uint8Array): Buffer {
  const header = Buffer.alloc(13);
  header.writeUInt32BE(width, 0);
  header.writeUInt32BE(height, 4);
  header.set([4, 3, 0, 0, 0], 8);
  const rows = Buffer.alloc(height * (1 + width / 2));
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x += 2)
      rows[y * (1 + width / 2) + 1 + x / 2] = (pixels[y * width + x]! << 4) | pixels[y * width + x + 1]!;
  return Buffer.concat([
    Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]),
    piece('IHDR', header),
    piece('PLTE', Buffer.from(palette.flat())),
    piece('IDAT', deflateSync(rows, { level: 9 })),
    piece('IEND', Buffer.alloc(0)),
  ]);
}

/**
 * A made-up render of a shot, as a data URI: water that grows dark, kelp from below, plankton that glows, now and then
 * the moon.
 */
export function renderOf(seed: number): string {
  const random = seededRandom(seed * 7919 + 5);
  const pixels = new Uint8Array(width * height);
  const depth = random() * 5;
  const tilt = random() * 0.08 - 0.04;
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      pixels[y * width + x] = Math.max(
        0,
        Math.min(9, Math.round(9 - depth - (y / height) * 7 + tilt * (x - width / 2))),
      );
  const dot = (x: number, y: number, colour: number): void => {
    if (x >= 0 && x < width && y >= 0 && y < height) pixels[Math.floor(y) * width + Math.floor(x)] = colour;
  };
  const disc = (x: number, y: number, radius: number, colour: number): void => {
    for (let dy = -radius; dy <= radius; dy++)
      for (let dx = -radius; dx <= radius; dx++) if (dx * dx + dy * dy <= radius * radius) dot(x + dx, y + dy, colour);
  };
  if (random() < 0.4) disc(12 + random() * 70, 8 + random() * 6, 5, 11);
  const stems = Math.floor(random() * 9);
  for (let i = 0; i < stems; i++) {
    const x0 = random() * width;
    const top = height * (0.15 + random() * 0.6);
    const sway = 2 + random() * 4;
    for (let y = height - 1; y > top; y--) {
      const x = x0 + Math.sin(y / 9 + i) * sway * (1 - y / height);
      for (let w = 0; w < 2; w++) dot(x + w, y, i % 2 === 0 ? 12 : 13);
    }
  }
  const lights = 10 + Math.floor(random() * 30);
  for (let i = 0; i < lights; i++) dot(random() * width, random() * height, 14);
  if (random() < 0.5) disc(20 + random() * 56, 20 + random() * 24, 2, 15);
  return `data:image/png;base64,${png(pixels).toString('base64')}`;
}
