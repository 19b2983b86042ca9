import { createHash } from 'node:crypto';
import { deflateSync } from 'node:zlib';
import { onLoopback, type StandIn } from './loopback.ts';

// A stand-in for a studio's render farm, so that nodes of the demo have pictures and times. It renders nothing: what it
// answers follows from what it is asked by a hash, so that the same node with the same values gets the same picture and
// the same time.

const [width, height] = [96, 54];

const crcTable = Uint32Array.from({ length: 256 }, (_, n) => {
  let c = n;
  for (let k = 0; k < 8; k++) c = c & 1 ? 0xedb88320 ^ (c >>> 1) : c >>> 1;
  return c >>> 0;
});

function crc(bytes: Buffer): number {
  let c = 0xffffffff;
  for (const byte of bytes) c = crcTable[(c ^ byte) & 0xff]! ^ (c >>> 8);
  return (c ^ 0xffffffff) >>> 0;
}

function chunk(type: string, data: Buffer): Buffer {
  const body = Buffer.concat([Buffer.from(type, 'latin1'), data]);
  const [length, check] = [Buffer.alloc(4), Buffer.alloc(4)];
  length.writeUInt32BE(data.length);
  check.writeUInt32BE(crc(body));
  return Buffer.concat([length, body, check]);
}

/** A PNG (ISO/IEC 15948) of 8-bit RGB rows. */
function png(pixel: (x: number, y: number) => readonly [number, number, number]): string {
  const rows = Buffer.alloc(height * (1 + width * 3));
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      pixel(x, y).forEach(
        (part, i) => (rows[y * (1 + width * 3) + 1 + x * 3 + i] = Math.max(0, Math.min(255, Math.round(part)))),
      );
  const header = Buffer.alloc(13);
  header.writeUInt32BE(width, 0);
  header.writeUInt32BE(height, 4);
  header.set([8, 2, 0, 0, 0], 8);
  const signature = Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]);
  const file = Buffer.concat([
    signature,
    chunk('IHDR', header),
    chunk('IDAT', deflateSync(rows)),
    chunk('IEND', Buffer.alloc(0)),
  ]);
  return `data:image/png;base64,${file.toString('base64')}`;
}

/** Dark water, light from above, and some glowing bodies in it. */
function picture(seed: Buffer): string {
  const byte = (i: number): number => seed[i % seed.length]!;
  const glow = [0, 1, 2, 3].map((i) => ({
    x: (byte(4 + i) / 255) * width,
    y: (byte(8 + i) / 255) * height,
    r: 4 + byte(12 + i) / 24,
  }));
  const tint = [20 + byte(0) / 3, 60 + byte(1) / 2, 90 + byte(2) / 2] as const;
  return png((x, y) => {
    const depth = 1 - y / height;
    const ripple = 0.12 * Math.sin(x / (4 + byte(3) / 30) + y / 7);
    const light = glow.reduce(
      (sum, one) => sum + Math.exp(-((x - one.x) ** 2 + (y - one.y) ** 2) / (2 * one.r ** 2)),
      0,
    );
    return [
      tint[0] * (0.25 + depth * 0.6 + ripple) + light * 190,
      tint[1] * (0.25 + depth * 0.6 + ripple) + light * 150,
      tint[2] * (0.35 + depth * 0.6 + ripple) + light * 80,
    ];
  });
}

interface Job {
  readonly path: string;
  readonly kind: string;
  readonly values: object;
}

function rendered({ path, kind, values }: Job): { path: string; picture: string; ms: number } {
  const seed = createHash('sha256')
    .update(JSON.stringify([kind, Object.entries(values ?? {}).sort()]))
    .digest();
  // most kinds take a few milliseconds, some take long; what a kind costs depends on the kind first
  const base = createHash('sha256').update(kind).digest();
  const ms = Math.round((0.4 + (base[0]! / 255) ** 3 * 240) * (0.7 + (seed[20]! / 255) * 0.6) * 100) / 100;
  return { path, picture: picture(seed), ms };
}

/** Serves `POST /render` on loopback. */
export async function startRenderService(): Promise<StandIn> {
  return onLoopback((request, response) => {
    const parts: Buffer[] = [];
    request.on('data', (part: Buffer) => parts.push(part));
    request.on('end', () => {
      const answer = (status: number, body: object): void => {
        response.writeHead(status, { 'Content-Type': 'application/json' });
        response.end(JSON.stringify(body));
      };
      try {
        const { jobs } = JSON.parse(Buffer.concat(parts).toString('utf8')) as { jobs: Job[] };
        if (request.method !== 'POST' || request.url !== '/render') answer(404, {});
        else answer(200, { rendered: jobs.slice(0, 1000).map(rendered) });
      } catch {
        answer(400, {});
      }
    });
  });
}
