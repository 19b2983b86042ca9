import { isHollow, markSize, type Sign, signOutlines } from '@basitax/core/sheet/outlines';

/** Traces a mark onto a canvas path. */
export function traceMark(ctx: CanvasRenderingContext2D, sign: Sign, x: number, y: number, size: number): void {
  const polygon = signOutlines[sign];
  if (!polygon) {
    ctx.moveTo(x + size, y);
    ctx.arc(x, y, size, 0, Math.PI * 2);
    return;
  }
  polygon.forEach(([px, py], i) => {
    if (i === 0) ctx.moveTo(x + px * size, y + py * size);
    else ctx.lineTo(x + px * size, y + py * size);
  });
  ctx.closePath();
}

/** Width of the line around a mark that sets it off from a spine of the same colour. */
export const markHalo = 4;

const images = new Map<string, string>();

/** Side of the square that a mark's picture stands in, its middle in the middle, in pixels at 100 % zoom. */
export const markBox = 16;

/**
 * The same as a picture for a style sheet. Elements with a drawing of their own each would make every node a layer for
 * the browser to put together: panning 120 nodes took three times as long.
 */
export function markImage(sign: Sign, color: string, ground: string): string {
  const key = `${sign} ${color} ${ground}`;
  let image = images.get(key);
  if (!image) {
    const polygon = signOutlines[sign];
    const half = markBox / 2;
    const shape = polygon
      ? `<path d="${polygon.map(([x, y], i) => `${i === 0 ? 'M' : 'L'}${half + x * markSize} ${half + y * markSize}`).join('')}Z"`
      : `<circle cx="${half}" cy="${half}" r="${markSize}"`;
    const halo = `${shape} fill="none" stroke="${ground}" stroke-width="${markHalo}"/>`;
    const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="${markBox}" height="${markBox}">${halo}${shape} fill="${isHollow(sign) ? ground : color}" stroke="${color}" stroke-width="1.6"/></svg>`;
    image = `url("data:image/svg+xml,${encodeURIComponent(svg)}")`;
    images.set(key, image);
  }
  return image;
}
